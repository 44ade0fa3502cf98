"""Check: what was measured beside what the plan expects, and the plan brought to what was measured."""
