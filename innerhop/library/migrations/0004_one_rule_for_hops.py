"""Where every hop leads is a row; what a change does beside text is part of it; texts can
be prepared. The index is read anew after this (see `catch_up`)."""

from typing import Any

import django.db.models.deletion
from django.contrib.postgres.operations import BtreeGinExtension, TrigramExtension
from django.db import migrations, models


def clear_index(apps: Any, _schema_editor: Any) -> None:
    """Rows of the index are made of the texts again, so they need not be converted."""
    for name in ("Section", "Mark", "Link", "Region"):
        apps.get_model("library", name).objects.all().delete()
    apps.get_model("library", "Page").objects.update(indexed=0)


def moves_to_effects(apps: Any, _schema_editor: Any) -> None:
    """A moved address is an effect of its change."""
    for move in apps.get_model("library", "Move").objects.select_related("change"):
        move.change.effects = [
            {"kind": "address", "page": move.page_id, "old": move.old, "new": move.new, "moved": True}
        ]
        move.change.save(update_fields=["effects"])


site = models.ForeignKey(
    db_index=False, on_delete=django.db.models.deletion.CASCADE, to="library.site"
)


class Migration(migrations.Migration):
    dependencies = [("library", "0003_hops_any_way")]

    operations = [
        TrigramExtension(),
        BtreeGinExtension(),
        migrations.RunPython(clear_index, migrations.RunPython.noop),
        migrations.RenameField("change", "said", "message"),
        migrations.AddField("change", "effects", models.JSONField(blank=True, default=list)),
        migrations.RunPython(moves_to_effects, migrations.RunPython.noop),
        migrations.RenameModel("Seal", "LockedPart"),
        migrations.RemoveConstraint("lockedpart", "sealed_once"),
        migrations.AddField("lockedpart", "lifted", models.BooleanField(default=False)),
        migrations.AlterField(
            "lockedpart",
            "page",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE,
                related_name="locked_parts",
                to="library.page",
            ),
        ),
        migrations.RenameModel("Arrival", "BringIn"),
        migrations.AlterField(
            "bringin",
            "site",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE,
                related_name="bring_ins",
                to="library.site",
            ),
        ),
        migrations.AlterField("revision", "number", models.PositiveIntegerField(null=True)),
        migrations.AddField("page", "section_count", models.PositiveIntegerField(default=0)),
        migrations.AddField("page", "marked_count", models.PositiveIntegerField(default=0)),
        migrations.AddField("page", "broken_count", models.PositiveIntegerField(default=0)),
        migrations.RenameField("section", "rank", "level"),
        migrations.AddField("section", "site", site, preserve_default=False),
        migrations.AddField("mark", "site", site, preserve_default=False),
        migrations.AlterField("link", "site", site),
        migrations.AddField("link", "permalink", models.BooleanField(default=False)),
        migrations.AddField("link", "kind", models.CharField(blank=True, max_length=6)),
        migrations.AddField(
            "link",
            "end_page",
            models.ForeignKey(
                db_index=False,
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="arriving",
                to="library.page",
            ),
        ),
        migrations.AddField("link", "end", models.PositiveIntegerField(null=True)),
        migrations.AddField("link", "why", models.CharField(blank=True, max_length=6)),
        migrations.AddField("link", "opens", models.BooleanField(default=False)),
    ]
