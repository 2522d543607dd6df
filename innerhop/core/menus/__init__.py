"""Menus: the lists of links that pages share, what each item does on each page, and where
pages differ."""
