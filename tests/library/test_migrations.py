"""A new version's migrations run while the old one still answers: they add, and what nobody needs
any more goes with a later version. Told by django-migration-linter from the SQL of each."""

from __future__ import annotations

import pytest
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django_migration_linter import MigrationLinter

FIRST = "0036"  # those before it came before there was a server to update


@pytest.mark.django_db
def test_migrations_leave_what_the_version_before_needs(capsys: pytest.CaptureFixture[str]) -> None:
    migrations = MigrationLoader(connection).disk_migrations
    own = [one for (app, name), one in migrations.items() if app == "library" and name >= FIRST]
    linter = MigrationLinter(no_cache=True)
    for one in own:
        linter.lint_migration(one)
    told = capsys.readouterr().out
    assert len(own) == linter.nb_total > 0
    assert not linter.has_errors, told


@pytest.mark.django_db
def test_one_that_takes_away_is_noticed() -> None:
    """0004 renamed columns and tables."""
    linter = MigrationLinter(no_cache=True, no_output=True)
    name = "0004_one_rule_for_hops"
    linter.lint_migration(MigrationLoader(connection).disk_migrations["library", name])
    assert linter.has_errors
