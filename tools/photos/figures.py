"""Print the table of what each photograph offers: python figures.py [FOLDER]."""

import sys
from pathlib import Path

import cv2
import numpy as np
from PIL import Image, ImageOps

FOLDER = Path(__file__).parents[2] / "src" / "flinz" / "demo" / "photos"


def main():
    """One row a picture."""
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER
    print("| file | 1 % | 5 % | 50 % | 95 % | 99 % | local contrast | fine detail | kB |")
    print("|---|---|---|---|---|---|---|---|---|")
    for path in sorted(folder.glob("*.jpg")):
        with Image.open(path) as image:
            grey = np.asarray(ImageOps.exif_transpose(image).convert("L"), np.float32) / 255
        width = max(grey.shape)
        tones = np.percentile(grey, (1, 5, 50, 95, 99)) * 100
        wide, fine = 0.01 * width, 0.0015 * width
        mean = cv2.GaussianBlur(grey, (0, 0), wide)
        spread = np.sqrt(np.maximum(cv2.GaussianBlur(grey * grey, (0, 0), wide) - mean**2, 0))
        detail = ((grey - cv2.GaussianBlur(grey, (0, 0), fine)) ** 2).mean() / grey.var()
        cells = [f"{tone:.0f}" for tone in tones]
        cells += [f"{spread.mean() * 100:.1f}", f"{detail * 100:.1f} %"]
        cells.append(f"{path.stat().st_size / 1000:.0f}")
        print(f"| {path.stem} | {' | '.join(cells)} |")


if __name__ == "__main__":
    main()
