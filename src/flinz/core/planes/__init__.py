"""Arithmetic on pictures: filters, flow, grain, grids fixed to the paper, photos in."""
