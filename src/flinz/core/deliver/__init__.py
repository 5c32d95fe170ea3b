"""Files that leave Flinz, one module a kind."""
