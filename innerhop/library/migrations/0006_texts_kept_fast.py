"""Texts are written several times as fast when PostgreSQL packs them with lz4, where it
was built with it (14 and later). What is there already stays as it is packed."""

from django.db import migrations

_FASTER = """
do $$ begin
  alter table library_revision alter column content set compression lz4;
exception when feature_not_supported or syntax_error or invalid_parameter_value then null;
end $$
"""


class Migration(migrations.Migration):
    dependencies = [("library", "0005_found_at_once")]
    operations = [migrations.RunSQL(_FASTER, migrations.RunSQL.noop)]
