"""The demo site as it was when it was loaded, put back without reading its pages again: most
tests in a browser begin with it and leave an empty database behind."""

from __future__ import annotations

from django.apps import apps
from django.db import connection, transaction

from innerhop.library.models import Site


def keep() -> None:
    """Keep what every table holds, beside it."""
    with connection.cursor() as cursor:
        cursor.execute("CREATE SCHEMA kept")
        for table in _tables():
            cursor.execute(f"CREATE TABLE kept.{table} AS TABLE public.{table}")


@transaction.atomic  # references are looked at when all tables are filled
def load() -> Site:
    """Fill the empty tables with what was kept."""
    with connection.cursor() as cursor:
        for table in _tables():
            cursor.execute(f"INSERT INTO public.{table} SELECT * FROM kept.{table}")
    return Site.objects.get()


def _tables() -> list[str]:
    return [connection.ops.quote_name(one._meta.db_table)
            for one in apps.get_models(include_auto_created=True)
            if one._meta.app_label == "library"]  # fmt: skip
