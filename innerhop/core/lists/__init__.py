"""Lists and lines of links, written: contents lists and menus are both such."""
