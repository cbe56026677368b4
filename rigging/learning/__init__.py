"""Knots and hitches as drawings that can be checked."""

from pathlib import Path

# A file for each, named by its id: what is drawn can be told without reading any.
FILES = Path(__file__).parent / "knots"
