"""Knots and hitches as drawings that can be checked."""
