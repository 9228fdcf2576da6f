"""Taking in: labels, archives, photographs, history."""
