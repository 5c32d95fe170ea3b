"""Everything the scenes share: noise, shapes, strands, lights, the camera and the darkroom."""
