"""The Report desk: a whole review or audit added up, and written out."""
