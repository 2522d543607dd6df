"""What was done on a site: by whom, when, where, and what becomes of it when it is taken back."""
