"""Sheets out of the house: one file a format, and the registry of all."""
