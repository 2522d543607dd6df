from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "innerhop.practice"
    label = "practice"
