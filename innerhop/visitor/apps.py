from django.apps import AppConfig

from innerhop.visitor.checks import register_checks


class VisitorConfig(AppConfig):
    name = "innerhop.visitor"
    label = "visitor"

    def ready(self) -> None:
        register_checks()
