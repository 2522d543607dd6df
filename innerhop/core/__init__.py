"""The rules of the job: text and values in, text and values out.

Nothing in here knows of Django, files, the network or the clock. See the
README's section on the parts for how the modules build on each other.
"""
