"""What can be judged of a sheet: which recipes suit, what was lost, what would not print."""
