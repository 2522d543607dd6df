"""Speed budgets, measured. Run by bin/bench; see the table in the README."""
