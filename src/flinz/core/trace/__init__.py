"""Plates to shapes: contours, corners, curves."""
