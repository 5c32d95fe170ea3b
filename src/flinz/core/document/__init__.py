"""The sheet and recipes as data, and their files."""
