"""Reports on what was measured: JSON, the open review format, and a table for terminals."""
