"""Anchors: what there is to tie to, how it is rigged, and what every leg sees."""
