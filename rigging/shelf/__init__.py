"""What this team has itself: its own gear piece by piece, and its own pull tests."""
