"""Files as the world writes them: read without another number than a person would read, and written so that others can use them.

What can be told in only one way is read and said; what can be told in two is asked; everything else is refused, every fault at once,
by row, column or path. Nothing of a file at fault is taken."""
