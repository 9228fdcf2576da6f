"""The work as a route: what heads, fits, joints and schools offer, put in order, and what the piece is at each step."""
