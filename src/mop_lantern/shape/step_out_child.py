"""Writes surfaces of triangles as a STEP file, in a process of its own.

Called as ``python -m mop_lantern.shape.step_out_child IN.npz OUT.step``: reads points (m), triangles, labels,
names and part (of every triangle), and the names of parts; triangles of one face that lie in one plane become
one flat face with its name, so that flat walls are exact and curved ones consist of facets.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.step_writing import Part, silent, write_step
from mop_lantern.shape.surface import Surface
from mop_lantern.shape.topology import hanging, rims_of

Floats = NDArray[np.float64]
LEVEL = 1e-9  # of the normals: flatter neighbours are one face
SEWN = 1e-5  # mm: edges nearer than this are one
MM = 1e3


def solid_of(surface: Surface) -> tuple[Any, list[tuple[Floats, str]]]:
    """Give a surface as a solid of flat faces, mm, and middles (mm) and names of the faces."""
    from OCP.BRep import BRep_Builder
    from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
    from OCP.TopAbs import TopAbs_SHELL
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS, TopoDS_Solid

    normal = surface.area_vectors / np.linalg.norm(surface.area_vectors, axis=1)[:, None]
    triangle, side = np.nonzero(surface.beyond >= 0)
    other = surface.beyond[triangle, side]
    one = ((normal[triangle] * normal[other]).sum(axis=1) > 1 - LEVEL) & (
        surface.labels[triangle] == surface.labels[other]
    )
    count, region = hanging(triangle[one], other[one], len(surface.triangles))
    sewing = BRepBuilderAPI_Sewing(SEWN)
    size = np.linalg.norm(surface.area_vectors, axis=1)
    middle = MM * surface.points[surface.triangles].mean(axis=1)
    order = np.argsort(region, kind="stable")
    marks = []
    for mine in np.split(order, np.cumsum(np.bincount(region, minlength=count))[:-1]):
        rims = rims_of(surface.triangles[mine])
        once = rims and len(np.unique(np.concatenate(rims))) == sum(map(len, rims))
        for chosen in [mine] if once else mine[:, None]:  # loops that touch themselves: facet by facet
            loops = rims_of(surface.triangles[chosen])
            sewing.Add(_flat(surface.points, loops, normal[chosen[0]]))
            weight = size[chosen] / size[chosen].sum()
            marks.append((weight @ middle[chosen], surface.names[surface.labels[chosen[0]]]))
    sewing.Perform()
    solid = TopoDS_Solid()
    builder = BRep_Builder()
    builder.MakeSolid(solid)
    every = TopExp_Explorer(sewing.SewedShape(), TopAbs_SHELL)
    while every.More():
        builder.Add(solid, TopoDS.Shell(every.Current()))
        every.Next()
    return solid, marks


def _flat(points: Floats, loops: Any, normal: Floats) -> Any:
    """Give a flat face within loops, the largest of which is its outside."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
    from OCP.gp import gp_Dir, gp_Pln, gp_Pnt

    def wire(loop: Any) -> Any:
        made = BRepBuilderAPI_MakePolygon()
        for place in MM * points[loop[::-1]]:
            made.Add(gp_Pnt(*place.tolist()))
        made.Close()
        return made.Wire()

    order = sorted(loops, key=lambda loop: -float(np.linalg.norm(np.ptp(points[loop], axis=0))))
    plane = gp_Pln(gp_Pnt(*(MM * points[order[0][0]]).tolist()), gp_Dir(*normal.tolist()))
    face = BRepBuilderAPI_MakeFace(plane, wire(order[0]), True)
    for loop in order[1:]:
        face.Add(wire(loop))
    return face.Face()


def run() -> int:
    """Write what the file named first holds into the one named second."""
    silent()
    with np.load(sys.argv[1], allow_pickle=False) as data:
        points, triangles, labels, part = (data[k] for k in ("points", "triangles", "labels", "part"))
        names, parts = [str(n) for n in data["names"]], [str(n) for n in data["parts"]]
    made = []
    for number, name in enumerate(parts):
        mine = part == number
        surface = Surface(points, triangles[mine], labels[mine], tuple(names))
        solid, marks = solid_of(surface)
        made.append(Part(name, solid, called=_namer(marks)))
    write_step(Path(sys.argv[2]), made)
    return 0


def _namer(marks: list[tuple[Floats, str]]) -> Any:
    """Give a function from a face to the name of the nearest mark."""
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps

    places = np.array([place for place, _ in marks])

    def named(face: Any) -> str:
        sums = GProp_GProps()
        BRepGProp.SurfaceProperties_s(face, sums)
        middle = sums.CentreOfMass()
        off = np.linalg.norm(places - [middle.X(), middle.Y(), middle.Z()], axis=1)
        return marks[int(off.argmin())][1]

    return named


if __name__ == "__main__":
    raise SystemExit(run())
