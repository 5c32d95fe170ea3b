"""Regions of a picture and their edges."""
