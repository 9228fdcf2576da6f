"""The fine book: metal by alloy, person and docket."""
