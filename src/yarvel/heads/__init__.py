"""One module a head style; claws, seats and holding."""
