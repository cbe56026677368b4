"""What the team has itself: its gear piece by piece, counted out and in, and its own pull tests."""
