from django.apps import AppConfig


class ScreensConfig(AppConfig):
    name = "innerhop.screens"
    label = "screens"
