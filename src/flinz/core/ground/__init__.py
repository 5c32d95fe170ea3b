"""What a plate is made from or lies on: blocks, lettering, lines drawn by a pen."""
