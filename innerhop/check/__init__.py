"""The check of a site's files on the command line: core alone, no database."""
