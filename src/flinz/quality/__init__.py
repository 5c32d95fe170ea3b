"""Measures how good the drawings are, on charts and on the demo's photos."""
