"""The repair window: the claw chart."""
