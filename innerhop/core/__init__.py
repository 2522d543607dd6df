"""The rules of the job: text and values in, text and values out.

Nothing in here knows of Django, files, the network or the clock. See
docs/parts.md for how the modules build on each other.
"""
