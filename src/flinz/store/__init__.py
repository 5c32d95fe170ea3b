"""Keeps photos, sheets, their history and jobs in one SQLite file."""
