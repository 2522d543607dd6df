from django.apps import AppConfig


class VisitorConfig(AppConfig):
    name = "innerhop.visitor"
    label = "visitor"
