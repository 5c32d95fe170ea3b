"""Dots and strokes as vectors: placed, packed, joined, and drawn in any frame."""
