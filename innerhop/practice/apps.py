from importlib import import_module

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "innerhop.practice"
    label = "practice"

    def ready(self) -> None:
        """Have its kind of jobs known."""
        import_module("innerhop.practice.measuring")
