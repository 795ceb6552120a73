"""Clean models: closed, as a careful sender exports them."""

from __future__ import annotations

from typing import Any

import numpy as np
import trimesh

from bench.corpus.specimen import specimen

Mesh = trimesh.Trimesh


def rod(way: Any, radius: float, length: float, start: Any = (0, 0, 0), sides: int = 64) -> Any:
    """Give a cylinder from a place along a way, m."""
    made = trimesh.creation.cylinder(radius, length, sections=sides)
    made.apply_translation([0, 0, 0.5 * length])
    made.apply_transform(trimesh.geometry.align_vectors([0, 0, 1], way))
    made.apply_translation(start)
    return made


def box(low: Any, high: Any) -> Any:
    """Give a box between two corners, m."""
    made = trimesh.creation.box(np.subtract(high, low))
    made.apply_translation(np.add(low, high) / 2)
    return made


def less(first: Any, *others: Any) -> Any:
    return trimesh.boolean.difference([first, *others])


def fused(*bodies: Any) -> Any:
    return trimesh.boolean.union(list(bodies))


def scene(**bodies: Any) -> Any:
    """Give bodies as nodes of a scene."""
    made = trimesh.Scene()
    for name, body in bodies.items():
        made.add_geometry(body, node_name=name, geom_name=name)
    return made


def disc(radius: float, sides: int = 64) -> float:
    """Area of the polygon a round section is, m2."""
    return 0.5 * sides * float(np.sin(2 * np.pi / sides)) * radius**2


TEE = (
    fused(rod((1, 0, 0), 0.03, 0.2), rod((0, 0, 1), 0.02, 0.12, (0.1, 0, 0))),
    fused(rod((1, 0, 0), 0.026, 0.2), rod((0, 0, 1), 0.017, 0.12, (0.1, 0, 0))),
)
CUTS = rod((1, 0, 0), 0.026, 0.22, (-0.01, 0, 0)), rod((0, 0, 1), 0.017, 0.13, (0.1, 0, 0))


def hollow_tee() -> Any:
    return less(TEE[0], *CUTS)


@specimen("box.stl", 6e-3, unit="mm")
@specimen("box-inch.stl", 6e-3, unit="in")
@specimen("box-foot.ply", 6e-3, unit="ft")
@specimen("box.glb", 6e-3)
@specimen("box.obj", 6e-3, unit="cm")
def plain_box() -> Any:
    return box((0, 0, 0), (0.1, 0.2, 0.3))


@specimen("ball.ply", trimesh.creation.icosphere(4, 0.1).volume)
def ball() -> Any:
    return trimesh.creation.icosphere(4, 0.1)


@specimen("ball-fine.stl", trimesh.creation.icosphere(6, 0.1).volume)
def fine_ball() -> Any:
    return trimesh.creation.icosphere(6, 0.1)


@specimen("torus.stl", trimesh.creation.torus(0.1, 0.03).volume)
def torus() -> Any:
    return trimesh.creation.torus(0.1, 0.03)


@specimen("capsule.obj", trimesh.creation.capsule(0.2, 0.05).volume)
def capsule() -> Any:
    return trimesh.creation.capsule(0.2, 0.05)


@specimen("cone.ply", trimesh.creation.cone(0.1, 0.3).volume)
def cone() -> Any:
    return trimesh.creation.cone(0.1, 0.3)


@specimen("grain.stl", 6e-12, unit="mm")
def grain() -> Any:
    return box((0, 0, 0), (1e-4, 2e-4, 3e-4))


@specimen("hall.stl", 60 * 40 * 8.0)
def hall() -> Any:
    return box((0, 0, 0), (60, 40, 8))


@specimen("survey-far-off.stl", 6.0, within=2e-3)
def far_off() -> Any:
    """Coordinates of a survey, in single precision."""
    return box((4000, 7000, 10), (4001, 7002, 13))


@specimen("star.stl", 0.03 * 12 * 0.05 * 0.1 * float(np.sin(np.pi / 12)))
def star() -> Any:
    angle = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    radius = np.where(np.arange(24) % 2, 0.05, 0.1)
    import shapely

    outline = shapely.Polygon(np.column_stack([radius * np.cos(angle), radius * np.sin(angle)]))
    return trimesh.creation.extrude_polygon(outline, 0.03)


@specimen("pipe-wall.glb", disc(0.024) * 0.3, how="inside")
def pipe_wall() -> Any:
    return less(rod((0, 0, 1), 0.026, 0.3), rod((0, 0, 1), 0.024, 0.32, (0, 0, -0.01)))


@specimen("stepped-pipe.stl", disc(0.02) * 0.1 + disc(0.03) * 0.1, unit="mm", how="inside")
def stepped_pipe() -> Any:
    outer = fused(rod((0, 0, 1), 0.024, 0.1), rod((0, 0, 1), 0.034, 0.104, (0, 0, 0.096)))
    return less(outer, rod((0, 0, 1), 0.02, 0.2, (0, 0, -0.05)), rod((0, 0, 1), 0.03, 0.2, (0, 0, 0.1)))


@specimen("tee-inside.stl", TEE[1].volume, unit="mm", how="inside")
@specimen("tee-wall.obj", hollow_tee().volume)
@specimen("tee-around.ply", 0.8 * 0.46 * 0.55 - TEE[0].volume + TEE[1].volume, how="around", within=2e-3)
def tee() -> Any:
    return hollow_tee()


@specimen("overlapping-tee.stl", TEE[1].volume)
def overlapping() -> Any:
    """Two bodies in one file that run through each other."""
    both = rod((1, 0, 0), 0.026, 0.2), rod((0, 0, 1), 0.017, 0.12, (0.1, 0, 0))
    return np.concatenate([body.triangles for body in both])


@specimen("bottle.ply", disc(0.033) * 0.096 + disc(0.01) * 0.052, how="inside", within=2e-3)
def bottle() -> Any:
    outer = fused(rod((0, 0, 1), 0.035, 0.1), rod((0, 0, 1), 0.012, 0.15))
    return less(outer, rod((0, 0, 1), 0.033, 0.096, (0, 0, 0.002)), rod((0, 0, 1), 0.01, 0.2, (0, 0, 0.05)))


@specimen("chamber.stl", 0.99**3 + 0.005 * (0.06 + disc(0.1)), how="inside", within=2e-3)
def chamber() -> Any:
    """A room of 5 mm sheet with a door, a round hole and a blind hole from outside."""
    holes = box((-0.1, -0.15, 0.45), (0.1, 0.15, 0.55)), rod((0, 1, 0), 0.1, 0.2, (0, 0.4, 0))
    blind = rod((-1, 0, 0), 0.05, 0.003, (0.5, 0.2, 0.2))
    return less(box((-0.5,) * 3, (0.5,) * 3), box((-0.495,) * 3, (0.495,) * 3), *holes, blind)


INCH = 0.0254
BRANCHES = [(4 * k + 2) * INCH for k in range(6)]
BORES = fused(
    rod((1, 0, 0), 1.75 * INCH, 25.75 * INCH),
    *(rod((0, 0, 1), 0.75 * INCH, 5 * INCH, (x, 0, 0)) for x in BRANCHES),
)


@specimen("manifold-inch.stl", BORES.volume, unit="in", how="inside")
def manifold() -> Any:
    """A header with six branches, a quarter inch thick."""
    outer = fused(
        rod((1, 0, 0), 2 * INCH, 26 * INCH), *(rod((0, 0, 1), INCH, 5 * INCH, (x, 0, 0)) for x in BRANCHES)
    )
    bore = rod((1, 0, 0), 1.75 * INCH, 26.75 * INCH, (-INCH, 0, 0))
    return less(outer, bore, *(rod((0, 0, 1), 0.75 * INCH, 6 * INCH, (x, 0, 0)) for x in BRANCHES))


@specimen("room-with-tables.glb", 4 * 3 * 2.5 + 0.2 * 2.0 - 2 * 0.8 * 0.6 * 0.7, how="inside", within=2e-3)
def room() -> Any:
    """Walls with a door, and two tables that stand a hair above the floor, as nodes."""
    walls = less(
        box((-0.2,) * 3, (4.2, 3.2, 2.7)), box((0,) * 3, (4, 3, 2.5)), box((1, -0.3, 0), (2, 0.1, 2))
    )
    tables = [box((x, 1, 1e-3), (x + 0.8, 1.6, 0.701)) for x in (0.5, 2.5)]
    return scene(walls=walls, table=tables[0], other_table=tables[1])


@specimen("fluid-with-island.stl", 1 - 0.2**3)
def island() -> Any:
    """The fluid itself, a body in it cut out as a shell that faces inwards."""
    inner = box((0.4,) * 3, (0.6,) * 3)
    return np.concatenate([box((0,) * 3, (1,) * 3).triangles, inner.triangles[:, ::-1]])


@specimen(
    "casing-and-rotor.glb",
    disc(0.1) * 0.05 - disc(0.06) * 0.02 + 2 * disc(0.02) * 0.01,
    how="inside",
    within=5e-3,
)
def casing() -> Any:
    casing = less(
        rod((0, 0, 1), 0.11, 0.07, (0, 0, -0.01)),
        rod((0, 0, 1), 0.1, 0.05),
        rod((0, 0, 1), 0.02, 0.03, (0, 0, 0.04)),
        rod((0, 0, 1), 0.02, 0.03, (0.06, 0, -0.02)),
    )
    return scene(casing=casing, rotor=rod((0, 0, 1), 0.06, 0.02, (0, 0, 0.015)))


@specimen("touching-boxes.glb", 2.0)
def touching() -> Any:
    return scene(one=box((0, 0, 0), (1, 1, 1)), two=box((1, 0, 0), (2, 1, 1)))


@specimen("thin-plate.stl", 4 * 3 * 2.001 - 1e-3, how="around", within=2e-3)
def plate() -> Any:
    return box((0, 0, 0), (1, 1, 1e-3))


@specimen("spring.stl", np.pi * 0.004**2 * 3 * float(np.hypot(2 * np.pi * 0.05, 0.02)), within=2e-2)
def spring() -> Any:
    """A coil of wire; volume by Pappus, its polygon a little less."""
    turn = np.linspace(0, 6 * np.pi, 200)
    path = np.column_stack([0.05 * np.cos(turn), 0.05 * np.sin(turn), 0.02 * turn / (2 * np.pi)])
    import shapely

    return trimesh.creation.sweep_polygon(shapely.Point(0, 0).buffer(0.004), path)


def _bolts() -> dict[str, Any]:
    head = fused(rod((0, 0, 1), 0.008, 0.006, sides=6), rod((0, 0, -1), 0.004, 0.02, (0, 0, 1e-3), 24))
    bodies = {"plate": box((-0.02, -0.02, -0.01), (0.4, 0.32, 0))}
    for k in range(80):
        one = head.copy()
        one.apply_translation([0.04 * (k % 10), 0.04 * (k // 10), 0])
        bodies[f"bolt{k}"] = one
    return bodies


RACK = fused(*_bolts().values())


@specimen(
    "bolts.glb",
    float(np.prod(RACK.extents + 2 * RACK.extents.max() * np.array([1.5, 1, 1]))) - RACK.volume,
    how="around",
)
def bolts() -> Any:
    """A rack of eighty bolts on a plate, each a node."""
    return scene(**_bolts())


@specimen("two-balls.stl", says="2 spaces that do not touch")
def two_balls() -> Any:
    one, other = (trimesh.creation.icosphere(3, 0.1) for _ in range(2))
    other.apply_translation([0.5, 0, 0])
    return np.concatenate([one.triangles, other.triangles])


def _patches() -> tuple[Any, Any]:
    body = rod((1, 0, 0), 0.02, 0.2)
    end = body.triangles_center[:, 0]
    return body, np.where(end < 1e-6, 0, np.where(end > 0.2 - 1e-6, 1, 2))


@specimen("named-patches.stl", disc(0.02) * 0.2)
def patches() -> Any:
    """A text file of three open solids, named, that are one surface."""
    body, which = _patches()
    text = []
    for number, name in enumerate(("inlet", "outlet", "wall")):
        text.append(f"solid {name}")
        for corners in body.triangles[which == number]:
            text.append("facet normal 0 0 0\nouter loop")
            text += ["vertex {:.9e} {:.9e} {:.9e}".format(*corner) for corner in corners]
            text.append("endloop\nendfacet")
        text.append(f"endsolid {name}")
    return "\n".join(text).encode()


@specimen("named-groups.obj", disc(0.02) * 0.2)
def groups() -> Any:
    body, which = _patches()
    text = ["v {:.9f} {:.9f} {:.9f}".format(*place) for place in body.vertices]
    for number, name in enumerate(("inlet", "outlet", "wall")):
        text.append(f"g {name}")
        text += ["f {} {} {}".format(*(corners + 1)) for corners in body.faces[which == number]]
    return "\n".join(text).encode()
