"""Texts are packed with LZ4 from here on where the server knows it, which takes a tenth of
the time; those that are there stay as they are."""

from django.db import migrations

# https://www.postgresql.org/docs/15/sql-altertable.html, SET COMPRESSION: "lz4 is available
# only if --with-lz4 was used when building"; version 13 knows no SET COMPRESSION at all.
LZ4 = """
DO $$ BEGIN
    EXECUTE 'ALTER TABLE library_revision ALTER COLUMN content SET COMPRESSION lz4';
EXCEPTION WHEN feature_not_supported OR invalid_parameter_value OR syntax_error THEN
    NULL;
END $$
"""
BACK = LZ4.replace("COMPRESSION lz4", "COMPRESSION default")


class Migration(migrations.Migration):
    dependencies = [("library", "0015_findings")]

    operations = [migrations.RunSQL(LZ4, BACK)]
