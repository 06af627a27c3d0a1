"""Files that are made to take gigabytes or minutes, a module for each family."""
