"""What the illustrator does by hand: strokes, in pieces that many versions share."""
