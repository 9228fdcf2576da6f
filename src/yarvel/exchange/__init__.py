"""Job files and plan documents: the borders where foreign text comes in and ours goes out."""
