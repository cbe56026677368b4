"""Drills that the engine sets and marks: nothing in an answer is typed in. One room, one file for what it is about."""
