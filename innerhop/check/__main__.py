"""`python -m innerhop.check …`, where the command is not installed."""

import sys

from innerhop.check.command import main

sys.exit(main(["check", *sys.argv[1:]]))
