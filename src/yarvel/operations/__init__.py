"""What can be done to a piece: kinds of operations with what they need, make and cost, and the piece that they change.
No knowledge of heads or metals: numbers come in with the operation."""
