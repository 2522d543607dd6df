"""People: who is invited to a site, and who leaves."""
