"""The store as such: where it is, its tables and layouts, its files, copies and moves, and who may write."""
