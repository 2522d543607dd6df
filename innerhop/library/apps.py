from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "innerhop.library"
    label = "library"
