from importlib import import_module

from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "innerhop.library"
    label = "library"

    def ready(self) -> None:
        """Have its kinds of jobs known."""
        for module in (
            "bring_in.many",
            "fetching.fetching",
            "fetching.drawing",
            "jobs.acting",
            "live.looking",
            "live.walking",
        ):
            import_module(f"innerhop.library.{module}")
