"""Long and hostile use: input nobody meant, a server killed at work, a day's memory. Run by commands of their own, not by each test run."""
