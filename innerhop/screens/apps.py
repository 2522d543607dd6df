from django.apps import AppConfig


class ScreensConfig(AppConfig):
    name = "innerhop.screens"
    label = "screens"

    def ready(self) -> None:
        """What happens to accounts is logged from here on."""
        from innerhop.screens.accounts import told  # noqa: PLC0415  (models are ready only now)

        told.listen()
