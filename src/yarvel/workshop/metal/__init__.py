"""The fine book: metal weighed, its sums, months signed off, lots."""
