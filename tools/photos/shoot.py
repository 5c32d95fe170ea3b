"""Render a scene to a JPEG: python tools/photos/shoot.py scarecrow [--preview] [--to FOLDER]."""

import argparse
import importlib
import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parent))
FOLDER = Path(__file__).parents[2] / "src" / "flinz" / "demo" / "photos"


def main():
    """Parse the command line and shoot."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("scene")
    parser.add_argument("--preview", action="store_true", help="a third of the size, 10 samples")
    parser.add_argument("--to", type=Path, default=FOLDER)
    chosen = parser.parse_args()
    scene = importlib.import_module(f"scenes.{chosen.scene.replace('-', '_')}")
    width, height = (side // 3 if chosen.preview else side for side in scene.SIZE)
    samples = 10 if chosen.preview else scene.SAMPLES
    began = time.monotonic()
    picture = scene.shoot(width, height, samples, np.random.default_rng(9))
    chosen.to.mkdir(parents=True, exist_ok=True)
    path = chosen.to / f"{chosen.scene}.jpg"
    size = scene.finish(picture, path)
    print(f"{path}: {size / 1000:.0f} kB in {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main()
