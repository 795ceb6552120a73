"""Spoilt models: torn, turned, doubled, crossing, folded, empty."""

from __future__ import annotations

from typing import Any

import numpy as np
import trimesh

from bench.corpus.clean import TEE, box, disc, fused, hollow_tee, less, rod, scene
from bench.corpus.specimen import specimen


def torn(body: Any, gone: float, turned: float = 0.0, fine: float = 0.0) -> Any:
    """Give the triangles of a body, chopped to a size (m), a share of them missing and a share turned."""
    random = np.random.default_rng(3)
    corners = (body.subdivide_to_size(fine) if fine else body).triangles
    corners = corners[random.random(len(corners)) >= gone]
    flip = random.random(len(corners)) < turned
    return np.where(flip[:, None, None], corners[:, ::-1], corners)


BALL = trimesh.creation.icosphere(4, 0.1)


@specimen("one-missing.stl", 6e-3, how="seal")
@specimen("one-missing-open.stl", says=r"1 open rims, the largest about .*Close them")
def one_missing() -> Any:
    return box((0, 0, 0), (0.1, 0.2, 0.3)).triangles[1:]


@specimen("torn-ball.ply", BALL.volume, how="seal", within=5e-3)
def torn_ball() -> Any:
    return torn(BALL, 0.02)


@specimen("turned-ball.stl", BALL.volume)
def turned_ball() -> Any:
    return torn(BALL, 0.0, 0.3)


@specimen("inside-out.stl", BALL.volume)
def inside_out() -> Any:
    return BALL.triangles[:, ::-1]


@specimen("doubled.stl", BALL.volume)
def doubled() -> Any:
    return np.concatenate([BALL.triangles, BALL.triangles[::3]])


@specimen("laid-twice-opposite.stl", 1.0)
def sheet_within() -> Any:
    """A box with a wall of two opposite sheets across it, joined to nothing."""
    sheet = np.array([[[0.5, 0.2, 0.2], [0.5, 0.8, 0.2], [0.5, 0.8, 0.8]]])
    return np.concatenate([box((0,) * 3, (1,) * 3).triangles, sheet, sheet[:, ::-1]])


@specimen("body-twice.glb", 6e-3)
def twice() -> Any:
    return scene(one=box((0, 0, 0), (0.1, 0.2, 0.3)), two=box((0, 0, 0), (0.1, 0.2, 0.3)))


@specimen("noise.stl", BALL.volume, within=1e-4)
def noise() -> Any:
    return BALL.triangles + np.random.default_rng(0).normal(0, 1e-9, BALL.triangles.shape)


@specimen("gaping.stl", BALL.volume, how="wrap 8mm", within=4e-2)
def gaping() -> Any:
    """Every triangle off its neighbours by a millimetre."""
    return BALL.triangles + np.random.default_rng(0).normal(0, 3e-4, BALL.triangles.shape)


def _pushed() -> Any:
    points = BALL.vertices.copy()
    points[points[:, 0] > 0.06, 0] -= 0.25
    return points[BALL.faces]


@specimen("pushed-through.stl", says=r"pairs of its triangles cross each other, by up to .* mm.*Wrap it")
@specimen("pushed-wrapped.stl", 2.5e-3, how="wrap 6mm", within=5e-2)
def pushed() -> Any:
    return _pushed()


@specimen("fin.stl", says=r"1 open rims|odd number")
@specimen("fin-wrapped.stl", BALL.volume, how="wrap 8mm", within=2e-2)
def fin() -> Any:
    """A ball with a single triangle standing on one of its edges."""
    a, b = BALL.vertices[BALL.faces[0][:2]]
    return np.concatenate([BALL.triangles, [[a, b, 1.3 * (a + b) / 2]]])


def _partition() -> Any:
    whole = box((0, 0, 0), (2, 1, 1)).slice_plane([1, 0, 0], [1, 0, 0])
    other = box((0, 0, 0), (2, 1, 1)).slice_plane([1, 0, 0], [-1, 0, 0])
    wall = np.array(
        [[[1, 0, 0], [1, 1, 0], [1, 1, 1]], [[1, 0, 0], [1, 1, 1], [1, 0, 1]]],
        float,
    )
    return np.concatenate([whole.triangles, other.triangles, wall])


@specimen("partition.stl", says=r"open rims|odd number of triangles.*Wrap it")
@specimen("partition-wrapped.stl", 2.0, how="seal wrap 60mm", within=2e-2)
def partition() -> Any:
    """Two rooms parted by a wall without thickness."""
    return _partition()


@specimen("nested-outward.stl", 1 - 0.2**3)
def nested() -> Any:
    """A cavity whose shell was exported facing out."""
    return np.concatenate([box((0,) * 3, (1,) * 3).triangles, box((0.4,) * 3, (0.6,) * 3).triangles])


@specimen("nested-three.stl", says="2 spaces that do not touch")
def nested_three() -> Any:
    """A body within a cavity of a body."""
    shells = [box((a,) * 3, (1 - a,) * 3).triangles for a in (0.0, 0.2, 0.4)]
    return np.concatenate(shells)


@specimen("ribbon.stl", says="odd number of triangles.*Wrap it")
def ribbon() -> Any:
    """A band with one side."""
    turn = np.linspace(0, 2 * np.pi, 61)
    rows = []
    for side in (-1.0, 1.0):
        radius = 0.1 + side * 0.02 * np.cos(turn / 2)
        rows.append(
            np.column_stack([radius * np.cos(turn), radius * np.sin(turn), side * 0.02 * np.sin(turn / 2)])
        )
    one, two = rows
    first = np.stack([one[:-1], one[1:], two[:-1]], axis=1)
    return np.concatenate([first, np.stack([one[1:], two[1:], two[:-1]], axis=1)])


@specimen("no-area.stl", says="bounds nothing")
def no_area() -> Any:
    return np.array([[[0, 0, 0], [1, 1, 1], [1, 1, 1]], [[2, 2, 2], [0, 0, 0], [1, 1, 1]]], float)


@specimen("no-numbers.stl", says="no numbers")
def no_numbers() -> Any:
    corners = BALL.triangles.copy()
    corners[3, 1, 2] = np.nan
    return corners


@specimen("empty.stl", says="triangles")
def empty() -> Any:
    return b"solid nothing\nendsolid nothing\n"


@specimen("cut-off.stl", says="cut off")
def cut_off() -> Any:
    return trimesh.exchange.stl.export_stl(BALL)[:-700]


@specimen("not-a-model.ply", says="cannot be read")
def not_a_model() -> Any:
    return b"ply\nformat nonsense 9\n\x00\xff"


@specimen("open-tee.obj", TEE[1].volume, how="seal", within=2e-3)
def open_tee() -> Any:
    """The walls of the water space as one sheet, its three ends open."""
    body = TEE[1]
    middle = body.triangles_center
    ends = (middle[:, 0] < 1e-6) | (middle[:, 0] > 0.2 - 1e-6) | (middle[:, 2] > 0.12 - 1e-6)
    return body.triangles[~ends]


@specimen("torn-tee.stl", TEE[1].volume, unit="mm", how="wrap 2mm inside", within=1e-2)
def torn_tee() -> Any:
    return torn(hollow_tee(), 0.01, 0.1, 0.006)


@specimen("crossing-boxes-torn.stl", 0.303, how="wrap 40mm", within=1e-2)
def crossing_boxes() -> Any:
    one, two = box((-0.5, -0.3, -0.2), (0.5, 0.3, 0.2)), box((-0.15, -0.15, -0.55), (0.15, 0.15, 0.55))
    return np.concatenate([torn(each, 0.01, 0.2, 0.03) for each in (one, two)])


@specimen("crossing-boxes.stl", 0.303)
def crossing_whole() -> Any:
    one, two = box((-0.5, -0.3, -0.2), (0.5, 0.3, 0.2)), box((-0.15, -0.15, -0.55), (0.15, 0.15, 0.55))
    return np.concatenate([one.triangles, two.triangles])


@specimen("gap-between.stl", 0.2 * 0.1 * 0.1, how="wrap 4mm", within=2e-2)
def gap_between() -> Any:
    """Two blocks that ought to touch, a millimetre apart."""
    return np.concatenate(
        [box((0, 0, 0), (0.0995, 0.1, 0.1)).triangles, box((0.1005, 0, 0), (0.2, 0.1, 0.1)).triangles]
    )


@specimen("slit-room.stl", 1 * 0.75 * 0.6, how="wrap-within 30mm about 0.5,0.4,0.3", within=4e-2)
@specimen(
    "slit-room-leaks.stl",
    how="wrap-within 9mm about 0.5,0.4,0.3",
    says=r"open to the outside by more than 9 mm, about .*A feature size of .* closes it",
)
def slit_room() -> Any:
    """A room of sheets without thickness; the ceiling lies 15 mm too small all round."""
    walls = box((0, 0, 0), (1, 0.75, 0.6)).subdivide_to_size(0.1)
    top = walls.triangles[:, :, 2].min(axis=1) > 0.599
    ceiling = box((0.015, 0.015, 0.6), (0.985, 0.735, 0.601))
    return np.concatenate([walls.triangles[~top], ceiling.triangles])


@specimen("split-on-one-side.stl", 1.0, how="seal")
def split() -> Any:
    """A box one edge of which is parted on one of its faces only."""
    corners = box((0,) * 3, (1,) * 3).triangles.tolist()
    first = np.array(corners.pop(0))
    middle = (first[0] + first[1]) / 2
    halves = [[first[0], middle, first[2]], [middle, first[1], first[2]]]
    return np.concatenate([np.array(corners), np.array(halves)])


@specimen("slivers.stl", disc(0.127, 400) * 0.6, within=1e-3)
def slivers() -> Any:
    return rod((0, 0, 1), 0.127, 0.6, sides=400)


@specimen(
    "drilled-shell.stl",
    fused(trimesh.creation.icosphere(4, 0.09), rod((0, 0, 1), 0.03, float(np.sqrt(0.1**2 - 0.03**2)))).volume,
    how="inside",
    within=5e-3,
)
def drilled() -> Any:
    """A shell drilled open: the rim of its mouth lies on a curved face."""
    shell = less(trimesh.creation.icosphere(4, 0.1), trimesh.creation.icosphere(4, 0.09))
    return less(shell, rod((0, 0, 1), 0.03, 0.2))
