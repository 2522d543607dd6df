"""How much the tests of core notice: faults planted in it, one at a time. Not a test: `bin/plant`
runs it."""
