"""The way to the store: what is typed and done is kept, written, watched and asked."""
