"""Speed budgets, measured. Run by bin/bench, which prints the budget beside each."""
