"""The sheet as primitives on paper in mm, recorded once, replayed by painters."""
