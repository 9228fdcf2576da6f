"""The window of customers: who they are, how they are reached, what they brought."""
