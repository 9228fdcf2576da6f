"""Who is here: signing in, the lock, people."""
