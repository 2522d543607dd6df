"""Many editors at work at once, on this machine: bin/load."""
