"""The work of dockets: tasks, standards, ways out of the house, and the plan of the day as the store knows it."""
