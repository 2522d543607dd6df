"""The site itself, beside what was planned for it here."""
