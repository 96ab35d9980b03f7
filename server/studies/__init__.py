"""Studies, their tables, variables and files: the store."""
