"""What the gear went through in a run, and the list of it that somebody signs."""
