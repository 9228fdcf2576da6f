"""What a docket comes to."""
