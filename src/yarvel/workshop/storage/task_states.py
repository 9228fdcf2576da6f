"""States of a task, as they are stored."""

OPEN, STARTED, DONE = "open", "started", "done"
