"""The window. Qt is used here and nowhere else."""
