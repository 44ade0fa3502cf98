"""What to do next and what to spend: actions, what their combinations are worth, the cost-score front, the ladder."""
