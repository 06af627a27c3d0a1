"""The solvers, and the vocabulary of edits in which they and the user write down a change."""
