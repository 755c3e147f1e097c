"""Photos of a plan's bait, made of its picture under a warm lamp, turned, with noise."""

import io
from dataclasses import replace

import numpy as np
from PIL import Image

from diachrom.core.bait import zones
from diachrom.core.light.screen import encode
from diachrom.exchange import photos
from diachrom.work.log import photo_beside
from diachrom.work.plan import pictures

LAMP = np.array([1.12, 0.95, 0.66])
TURNED_DEG = 7.0


def high_of(plan):
    upper, lower, _ = plan.blank.form.outline.edges(np.linspace(0, 1, 41))
    return 2 * float(max(upper.max(), -lower.min()) + photo_beside.AROUND)


def photo_of(on, plan, *, seed=1, noise=0.01, side="left"):
    """A photo of a plan's bait, and where grey patch, nose and tail lie in it."""
    made = on(pictures.seen_side, plan, side=side, high=high_of(plan), width=640)
    inside = zones.silhouette(plan.blank.form.outline, made.shape[:2], photos.MARGIN)
    made = np.where(inside[..., None], made, 0.45)
    made = made if side == "left" else made[:, ::-1]
    scene = np.full((560, 900, 3), 0.45)
    top, left = 200, 130
    scene[top : top + made.shape[0], left : left + 640] = made
    scene[60:120, 60:120] = photos.USUAL_GREY
    turned = Image.fromarray((255 * encode(np.clip(0.8 * scene * LAMP, 0, 1))).astype(np.uint8))
    turned = turned.rotate(
        TURNED_DEG, resample=Image.Resampling.BICUBIC, expand=False, fillcolor=turned.getpixel((5, 5))
    )
    shown = np.asarray(turned) / 255 + np.random.default_rng(seed).normal(0, noise, (560, 900, 3))
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(shown, 0, 1)).astype(np.uint8)).save(out, "PNG")
    angle = -np.radians(TURNED_DEG)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    y = top + made.shape[0] / 2
    long = 640 / (1 + 2 * photos.MARGIN)
    ends = [(left + 320 - long / 2, y), (left + 320 + long / 2, y)]
    ends = ends if side == "left" else ends[::-1]
    places = [tuple((turn @ (np.array(one) - (450, 280)) + (450, 280)).tolist()) for one in ((90, 90), *ends)]
    return out.getvalue(), places


def thicker(plan, numbers, times):
    layers = (replace(one, film_um=(times if one.number in numbers else 1.0) * one.film_um) for one in plan.layers)
    return replace(plan, layers=tuple(layers))
