"""The camera: hands a scene to Mitsuba 3, puts it before its backdrop, denoises it.

Set DRJIT_LIBLLVM_PATH to an LLVM 19 library before running (see the README beside this folder).
"""

import os
import tempfile
from dataclasses import dataclass, field
from pathlib import Path

import mitsuba as mi
import numpy as np

mi.set_variant(os.environ.get("PHOTOLAB_VARIANT", "llvm_ad_rgb"))

from pyoidn import denoise  # noqa: E402  (must follow the variant)


@dataclass
class Scene:
    """What stands before the camera. Lengths in metres, z up."""

    width: int
    height: int
    eye: tuple
    target: tuple
    fov_deg: float
    aperture: float
    focus: float
    things: dict = field(default_factory=dict)

    def add(self, name, mesh, material):
        """Add a coloured mesh. material: a principled BSDF without its colour."""
        path = Path(tempfile.mkdtemp()) / f"{name}.ply"
        _write_ply(path, mesh)
        bsdf = {
            "type": "principled",
            "base_color": {"type": "mesh_attribute", "name": "vertex_color"},
            **material,
        }
        self.things[name] = {
            "type": "ply",
            "filename": str(path),
            "bsdf": {"type": "twosided", "inner": bsdf} if "spec_trans" not in material else bsdf,
        }

    def softbox(self, name, place, towards, size, colour):
        """A rectangular lamp of size metres, radiance colour."""
        to_world = mi.ScalarTransform4f().look_at(
            origin=list(place), target=list(towards), up=[0, 0.01, 1]
        )
        self.things[name] = {
            "type": "rectangle",
            "to_world": to_world @ mi.ScalarTransform4f().scale([size / 2, size / 2, 1]),
            "emitter": {"type": "area", "radiance": {"type": "rgb", "value": list(colour)}},
        }

    def sky(self, picture):
        """Light from all round: (H, W, 3) linear, as a latitude-longitude map."""
        self.things["sky"] = {
            "type": "envmap",
            "bitmap": mi.Bitmap(np.ascontiguousarray(picture, np.float32)),
            "to_world": mi.ScalarTransform4f().rotate([1, 0, 0], 90),
        }

    def shoot(self, samples, backdrop=None, depth=6):
        """Render over backdrop (H, W, 3), denoised together so that thin edges stay clean.

        Returns (H, W, 3) float32, linear light.
        """
        scene = mi.load_dict(
            {
                "type": "scene",
                **self.things,
                "sensor": self._sensor(),
                "integrator": self._integrator(depth),
            }
        )
        # Passes keep the wavefront's memory bounded.
        passes = max(1, round(self.width * self.height * samples / 9_000_000))
        each = max(1, round(samples / passes))
        total = None
        for k in range(passes):
            frame = np.array(mi.render(scene, spp=each, seed=k), np.float32)
            # A rare path that hits a lamp by chance would leave a firefly.
            frame[..., :3] = np.minimum(frame[..., :3], 40.0)
            total = frame if total is None else total + frame
        total = np.nan_to_num(total / passes)
        light, alpha = total[..., :3], np.clip(total[..., 3:4], 0, 1)
        albedo, normal = np.clip(total[..., 4:7], 0, 1), total[..., 7:10]
        if backdrop is not None:
            light = light + backdrop * (1 - alpha)
            albedo = albedo + np.clip(backdrop, 0, 1) * (1 - alpha)
        albedo = denoise(np.ascontiguousarray(albedo), hdr=False)
        normal = denoise(np.ascontiguousarray(normal), hdr=False)
        light = denoise(
            np.ascontiguousarray(light), albedo=albedo, normal=normal, hdr=True, clean_aux=True
        )
        return np.maximum(light, 0)

    def _sensor(self):
        to_world = mi.ScalarTransform4f().look_at(
            origin=list(self.eye), target=list(self.target), up=[0, 0, 1]
        )
        return {
            "type": "thinlens",
            "to_world": to_world,
            "fov": self.fov_deg,
            "fov_axis": "larger",
            "aperture_radius": self.aperture,
            "focus_distance": self.focus,
            "sampler": {"type": "independent"},
            "film": {
                "type": "hdrfilm",
                "width": self.width,
                "height": self.height,
                "rfilter": {"type": "box"},
                "pixel_format": "rgba",
                "component_format": "float32",
            },
        }

    def _integrator(self, depth):
        return {
            "type": "aov",
            "aovs": "al:albedo,nn:sh_normal",
            "path": {"type": "path", "max_depth": depth, "hide_emitters": True},
        }


def _write_ply(path, mesh):
    normals = mesh.normals()
    colour = np.clip(mesh.colour, 0, 1)
    rows = np.concatenate([mesh.points, normals, colour], 1).astype("<f4")
    faces = np.empty(len(mesh.faces), dtype=[("n", "u1"), ("v", "<i4", 3)])
    faces["n"] = 3
    faces["v"] = mesh.faces
    names = ["x", "y", "z", "nx", "ny", "nz", "r", "g", "b"]
    header = ["ply", "format binary_little_endian 1.0", f"element vertex {len(rows)}"]
    header += [f"property float {n}" for n in names]
    header += [
        f"element face {len(faces)}",
        "property list uchar int vertex_indices",
        "end_header",
        "",
    ]
    path.write_bytes("\n".join(header).encode() + rows.tobytes() + faces.tobytes())
