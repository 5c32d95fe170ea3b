"""From linear light to a JPEG that looks like a camera's: bloom, curve, grain, tags."""

import io
import struct

import cv2
import numpy as np
from PIL import Image, ImageCms


def developed(
    light,
    rng,
    *,
    exposure=1.0,
    contrast=1.0,
    warmth=1.0,
    saturation=1.0,
    bloom=0.06,
    vignette=0.25,
    grain=0.010,
    fade=0.0,
):
    """Linear light (H, W, 3) to encoded values 0..1, float32.

    exposure multiplies light; contrast is the steepness of the curve about middle grey; fade
    lifts black and lowers white, for overcast days.
    """
    h, w = light.shape[:2]
    light = light * exposure * np.array([warmth, 1.0, 1.0 / warmth], np.float32)
    glow = cv2.GaussianBlur(np.maximum(light - 0.8, 0), (0, 0), w / 90)
    light = light + bloom * glow
    y, x = np.mgrid[-1 : 1 : h * 1j, -1 : 1 : w * 1j].astype(np.float32)
    light = light * (1 - vignette * ((x * x + y * y) / 2)[..., None])
    grey = (light @ np.array([0.2126, 0.7152, 0.0722], np.float32))[..., None]
    light = np.maximum(grey + (light - grey) * saturation, 0)
    # Filmic: linear in the dark, a long shoulder in the light (after J. Hable, 2010, simplified).
    a = light * (2.2 * light + 0.08) / (light * (2.0 * light + 0.62) + 0.12)
    curve = np.clip(a, 0, 1) ** (1 / 1.45)
    pivot = 0.42
    curve = pivot + (curve - pivot) * contrast
    curve = np.clip(fade + curve * (1 - 2 * fade), 0, 1)
    mono = rng.normal(0, 1, (h, w, 1)).astype(np.float32)
    hue = rng.normal(0, 1, (h, w, 3)).astype(np.float32)
    noise = cv2.GaussianBlur(0.8 * mono + 0.45 * hue, (0, 0), 0.55) * 1.8
    return np.clip(curve + noise * grain * (1.25 - curve), 0, 1).astype(np.float32)


def save(picture, path, *, title, orientation=1, profile=None, limit=690_000):
    """Write a JPEG under limit bytes, with made-up camera data. Returns its size."""
    image = Image.fromarray((picture * 255 + 0.5).astype(np.uint8))
    tags = image.getexif()
    tags[0x010E] = title
    tags[0x010F] = "Quillmere"
    tags[0x0110] = "Potting Shed One"
    tags[0x0112] = orientation
    for quality in range(94, 60, -2):
        out = io.BytesIO()
        image.save(
            out,
            "JPEG",
            quality=quality,
            optimize=True,
            exif=tags.tobytes(),
            icc_profile=profile or srgb_profile(),
            subsampling=1,
        )
        if out.tell() < limit:
            break
    path.write_bytes(out.getvalue())
    return out.tell()


def srgb_profile():
    """The sRGB profile that ships with the colour library."""
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def display_p3_profile():
    """A Display P3 profile (ICC 4, matrix and the sRGB curve), built from its published numbers."""

    def fixed(value):
        return struct.pack(">i", round(value * 65536))

    def text(words):
        data = words.encode("utf-16-be")
        head = b"mluc" + bytes(4) + struct.pack(">IIHHII", 1, 12, 0x656E, 0x5553, len(data), 28)
        return head + data

    def xyz(*values):
        return b"XYZ " + bytes(4) + b"".join(fixed(v) for v in values)

    curve = b"para" + bytes(4) + struct.pack(">HH", 3, 0)
    curve += b"".join(fixed(v) for v in (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045))
    tags = {
        b"desc": text("Display P3"),
        b"cprt": text("Free to use"),
        b"wtpt": xyz(0.9642, 1.0, 0.8249),
        b"rXYZ": xyz(0.51512, 0.24120, -0.00105),
        b"gXYZ": xyz(0.29198, 0.69225, 0.04189),
        b"bXYZ": xyz(0.15710, 0.06657, 0.78407),
        b"rTRC": curve,
        b"gTRC": curve,
        b"bTRC": curve,
    }
    place = 128 + 4 + 12 * len(tags)
    table, body = struct.pack(">I", len(tags)), b""
    for name, data in tags.items():
        table += name + struct.pack(">II", place + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    size = 128 + len(table) + len(body)
    head = struct.pack(">I4sI4s4s4s", size, bytes(4), 0x04000000, b"mntr", b"RGB ", b"XYZ ")
    head += struct.pack(">6H", 2026, 11, 1, 0, 0, 0) + b"acsp" + bytes(28)
    head += fixed(0.9642) + fixed(1.0) + fixed(0.8249) + bytes(48)
    return head + table + body
