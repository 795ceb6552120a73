"""Reads a STEP file in a process of its own: the library behind it may crash, and prints what it likes.

Called as ``python -m mop_lantern.shape.step_child FILE.step OUT.npz SECONDS BYTES``: writes triangles in
metres, the face each belongs to, and names of the faces ("part.face"); ends with 2 and words on standard
error where the file cannot be read. It may take so much time of the processor and so much memory.
"""

from __future__ import annotations

import resource
import sys
from collections.abc import Iterator
from typing import Any

import numpy as np

FINE = 2e-3  # of a part's size: how far triangles may lie off a curved face
BEND = 0.15  # rad, between neighbouring triangles of one
FINER = 3  # times both are halved where triangles cross


def _hold(seconds: int, memory: int) -> None:
    """Let the system end this process where it takes more time or memory, whether or not anybody waits for
    it.
    """
    for limit, value in ((resource.RLIMIT_CPU, seconds), (resource.RLIMIT_AS, memory)):
        hard = resource.getrlimit(limit)[1]
        resource.setrlimit(limit, (value if hard == resource.RLIM_INFINITY else min(value, hard), hard))


def read(path: str) -> tuple[list[Any], list[int], list[str], list[str]]:
    """Give triangles (3, 3) m, their face numbers, and the faces' names and colours ("#rrggbb" or "").

    Raises
    ------
    ValueError : the file holds no solid shapes that can be read.
    """
    from OCP.IFSelect import IFSelect_RetDone
    from OCP.Interface import Interface_Static
    from OCP.STEPCAFControl import STEPCAFControl_Reader
    from OCP.TCollection import TCollection_ExtendedString
    from OCP.TDocStd import TDocStd_Document
    from OCP.XCAFDoc import XCAFDoc_DocumentTool

    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFDoc_DocumentTool.SetLengthUnit_s(document, 1.0)  # metres, whatever the file is in
    STEPCAFControl_Reader()  # the setting is known once there has been one
    Interface_Static.SetIVal_s("read.stepcaf.subshapes.name", 1)
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    if reader.ReadFile(path) != IFSelect_RetDone or not reader.Transfer(document):
        raise ValueError("it is not a STEP file, or a damaged one")
    corners: list[Any] = []
    owner: list[int] = []
    names: list[str] = []
    colours: list[str] = []
    tool = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    for shape, part, faces in _parts(document):
        _tessellate(shape)
        of_part = _colour(tool, shape)
        for number, face in enumerate(_faces(shape), 1):
            names.append(f"{part}.{faces(face) or f'face{number}'}")
            colours.append(_colour(tool, face) or of_part)
            made = _triangles(face)
            corners += made
            owner += [len(names) - 1] * len(made)
    if not corners:
        raise ValueError("it holds no faces")
    return corners, owner, names, colours


def _colour(tool: Any, shape: Any) -> str:
    """Give the colour a shape or face has in the file, "" for none."""
    from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
    from OCP.XCAFDoc import XCAFDoc_ColorType

    found = Quantity_Color()
    for kind in (XCAFDoc_ColorType.XCAFDoc_ColorSurf, XCAFDoc_ColorType.XCAFDoc_ColorGen):
        if tool.GetColor(shape, kind, found):
            shades = found.Values(Quantity_TypeOfColor.Quantity_TOC_sRGB)
            return "#" + "".join(f"{min(max(round(255 * shade), 0), 255):02x}" for shade in shades)
    return ""


def _parts(document: Any) -> Iterator[tuple[Any, str, Any]]:
    """Give every part where it stands, its name, and a function from its faces to their names."""
    from OCP.collections import Sequence_TDF_Label
    from OCP.TopLoc import TopLoc_Location
    from OCP.XCAFDoc import XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    roots = Sequence_TDF_Label()
    tool.GetFreeShapes(roots)

    def walk(label: Any, where: Any, name: str) -> Iterator[tuple[Any, str, Any]]:
        source = label
        here = where
        if XCAFDoc_ShapeTool.IsReference_s(label):
            source = _referred(label)
            here = where.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(label))
        own = _name(label) or _name(source) or name
        if XCAFDoc_ShapeTool.IsAssembly_s(source):
            parts = Sequence_TDF_Label()
            XCAFDoc_ShapeTool.GetComponents_s(source, parts, False)
            for k in range(1, parts.Length() + 1):
                yield from walk(parts.Value(k), here, own)
            return
        shape = XCAFDoc_ShapeTool.GetShape_s(source)
        known = _face_names(source)
        yield (
            shape.Located(here.Multiplied(shape.Location())),
            own,
            lambda face: next((words for each, words in known if each.IsPartner(face)), ""),
        )

    for k in range(1, roots.Length() + 1):
        yield from walk(roots.Value(k), TopLoc_Location(), f"part{k}")


def _referred(label: Any) -> Any:
    from OCP.TDF import TDF_Label
    from OCP.XCAFDoc import XCAFDoc_ShapeTool

    found = TDF_Label()
    XCAFDoc_ShapeTool.GetReferredShape_s(label, found)
    return found


def _face_names(label: Any) -> list[tuple[Any, str]]:
    from OCP.collections import Sequence_TDF_Label
    from OCP.XCAFDoc import XCAFDoc_ShapeTool

    found = Sequence_TDF_Label()
    XCAFDoc_ShapeTool.GetSubShapes_s(label, found)
    return [
        (XCAFDoc_ShapeTool.GetShape_s(found.Value(k)), _name(found.Value(k)))
        for k in range(1, found.Length() + 1)
        if _name(found.Value(k))
    ]


def _name(label: Any) -> str:
    """Give the name of a label; by its attributes one after the other, as looking for one of a kind
    crashes.
    """
    from OCP.TDataStd import TDataStd_Name
    from OCP.TDF import TDF_AttributeIterator

    every = TDF_AttributeIterator(label)
    while every.More():
        if isinstance(every.Value(), TDataStd_Name):
            return str(every.Value().Get().ToExtString())
        every.Next()
    return ""


def _tessellate(shape: Any) -> None:
    """Lay triangles on a part; finer ones where those of one of its solids cross, as coarse ones of walls
    thinner than they lie off their faces do.
    """
    from OCP.Bnd import Bnd_Box
    from OCP.BRepBndLib import BRepBndLib
    from OCP.BRepMesh import BRepMesh_IncrementalMesh
    from OCP.BRepTools import BRepTools

    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box)
    size = max(box.SquareExtent(), 1e-18) ** 0.5
    for finer in range(FINER + 1):
        if finer:
            BRepTools.Clean_s(shape)
        BRepMesh_IncrementalMesh(
            shape,
            FINE * size / 2**finer,
            False,
            BEND / 2**finer,
            False,
        )
        if not any(map(_crossed, _solids(shape))):
            return


def _crossed(solid: Any) -> bool:
    """Whether triangles of a solid cross."""
    from mop_lantern.shape.crossing import crossings
    from mop_lantern.shape.topology import welded

    corners = [corner for face in _faces(solid) for corner in _triangles(face)]
    if not corners:
        return False
    points, triangles, _ = welded(np.array(corners, float).reshape(-1, 3))
    return crossings(points, triangles).count > 0


def _solids(shape: Any) -> Iterator[Any]:
    from OCP.TopAbs import TopAbs_SOLID
    from OCP.TopExp import TopExp_Explorer

    every = TopExp_Explorer(shape, TopAbs_SOLID)
    while every.More():
        yield every.Current()
        every.Next()


def _faces(shape: Any) -> Iterator[Any]:
    from OCP.TopAbs import TopAbs_FACE
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS

    every = TopExp_Explorer(shape, TopAbs_FACE)
    while every.More():
        yield TopoDS.Face(every.Current())
        every.Next()


def _triangles(face: Any) -> list[Any]:
    from OCP.BRep import BRep_Tool
    from OCP.TopAbs import TopAbs_REVERSED
    from OCP.TopLoc import TopLoc_Location

    where = TopLoc_Location()
    made = BRep_Tool.Triangulation_s(face, where)
    if made is None:
        return []
    turn = where.Transformation()
    places = []
    for k in range(1, made.NbNodes() + 1):
        point = made.Node(k).Transformed(turn)
        places.append(
            (
                point.X(),
                point.Y(),
                point.Z(),
            )
        )
    flip = face.Orientation() == TopAbs_REVERSED
    found = []
    for k in range(1, made.NbTriangles() + 1):
        a, b, c = made.Triangle(k).Get()
        found.append(
            [places[a - 1], places[c - 1], places[b - 1]]
            if flip
            else [places[a - 1], places[b - 1], places[c - 1]]
        )
    return found


def run() -> int:
    """Read the file named first on the command line into the one named second."""
    try:
        _hold(int(sys.argv[3]), int(sys.argv[4]))
        corners, owner, names, colours = read(sys.argv[1])
    except ValueError as problem:
        print(problem, file=sys.stderr)
        return 2
    except MemoryError:
        print("it needs more memory than its size makes likely: it is damaged", file=sys.stderr)
        return 2
    np.savez(
        sys.argv[2],
        corners=np.array(corners, float),
        owner=np.array(owner),
        names=np.array(names),
        colours=np.array(colours),
    )
    return 0


if __name__ == "__main__":
    raise SystemExit(run())
