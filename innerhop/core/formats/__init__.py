"""What a page is written in: how elements are put into its text, changed and taken out. What a
planner wants done is said in the verbs of `html`; what is to be written, in `pieces`."""
