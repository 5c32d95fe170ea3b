"""The drawing methods, one file each, and what they have in common."""
