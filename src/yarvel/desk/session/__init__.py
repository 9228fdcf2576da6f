"""The docket in hand: what it is, how it is changed, undone and taken back."""
