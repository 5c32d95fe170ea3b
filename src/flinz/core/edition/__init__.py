"""The same settings on many photos: what each becomes, its name, and who draws it."""
