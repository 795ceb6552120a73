"""Writes STEP files of bodies made here, for tests and demos."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mop_lantern.shape import step_child


@dataclass(frozen=True)
class Part:
    """A part of a file: its shape, in mm, its name, a colour ("#rrggbb") and a namer of its faces."""

    name: str
    shape: Any
    colour: str = ""
    called: Callable[[Any], str] | None = None


def write_step(path: Path, parts: list[Part], unit: str = "MM") -> Path:
    """Write parts beside each other. ``unit`` : MM, M or INCH."""
    from OCP.Interface import Interface_Static
    from OCP.STEPCAFControl import STEPCAFControl_Writer
    from OCP.TCollection import TCollection_ExtendedString
    from OCP.TDataStd import TDataStd_Name
    from OCP.TDocStd import TDocStd_Document
    from OCP.XCAFDoc import XCAFDoc_DocumentTool

    silent()
    STEPCAFControl_Writer()  # settings are known once there has been one
    Interface_Static.SetIVal_s("write.stepcaf.subshapes.name", 1)
    Interface_Static.SetCVal_s("write.step.unit", unit)
    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFDoc_DocumentTool.SetLengthUnit_s(document, 1e-3)
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    for part in parts:
        label = tool.AddShape(part.shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(part.name))
        for face in step_child._faces(part.shape) if part.called else ():
            TDataStd_Name.Set_s(tool.AddSubShape(label, face), TCollection_ExtendedString(part.called(face)))
        if part.colour:
            _paint(document, label, part.colour)
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    writer.Transfer(document)
    writer.Write(str(path))
    head = re.sub(r"FILE_DESCRIPTION\(.*?\);", "FILE_DESCRIPTION((''),'2;1');", path.read_text(), flags=re.S)
    named = f"FILE_NAME('{path.stem}','',(''),(''),'','','');"
    path.write_text(re.sub(r"FILE_NAME\(.*?\);", named, head, flags=re.S))
    return path


def _paint(document: Any, label: Any, colour: str) -> None:
    from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
    from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool

    shades = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
    XCAFDoc_DocumentTool.ColorTool_s(document.Main()).SetColor(
        label,
        Quantity_Color(*shades, Quantity_TypeOfColor.Quantity_TOC_sRGB),
        XCAFDoc_ColorType.XCAFDoc_ColorSurf,
    )


def cylinder(start: tuple[float, ...], way: tuple[float, ...], radius: float, length: float) -> Any:
    """Give a cylinder, mm."""
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt

    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*start), gp_Dir(*way)), radius, length).Shape()


def ball(centre: tuple[float, ...], radius: float) -> Any:
    """Give a ball, mm."""
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeSphere
    from OCP.gp import gp_Pnt

    return BRepPrimAPI_MakeSphere(gp_Pnt(*centre), radius).Shape()


def block(low: tuple[float, ...], high: tuple[float, ...]) -> Any:
    """Give a block, mm."""
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
    from OCP.gp import gp_Pnt

    return BRepPrimAPI_MakeBox(gp_Pnt(*low), gp_Pnt(*high)).Shape()


def fused(first: Any, *others: Any) -> Any:
    """Give several shapes as one."""
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse

    for other in others:
        first = BRepAlgoAPI_Fuse(first, other).Shape()
    return first


def less(first: Any, *others: Any) -> Any:
    """Give a shape less others."""
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut

    for other in others:
        first = BRepAlgoAPI_Cut(first, other).Shape()
    return first


def rounded(shape: Any, radius: float, chosen: Callable[[Any], bool] = lambda edge: True) -> Any:
    """Give a shape with rounded edges."""
    from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet
    from OCP.TopAbs import TopAbs_EDGE
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS

    made = BRepFilletAPI_MakeFillet(shape)
    every = TopExp_Explorer(shape, TopAbs_EDGE)
    while every.More():
        edge = TopoDS.Edge(every.Current())
        if chosen(edge):
            made.Add(radius, edge)
        every.Next()
    return made.Shape()


def middle_of(face: Any) -> tuple[float, float, float]:
    """Give the middle of a face, mm."""
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps

    sums = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, sums)
    found = sums.CentreOfMass()
    return found.X(), found.Y(), found.Z()


def placed(shape: Any, by: tuple[float, ...] = (0, 0, 0), turn: float = 0.0) -> Any:
    """Give a shape turned about the z axis (rad), then moved (mm)."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
    from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec

    turned = gp_Trsf()
    turned.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), turn)
    moved = gp_Trsf()
    moved.SetTranslation(gp_Vec(*by))
    return BRepBuilderAPI_Transform(shape, moved.Multiplied(turned), True).Shape()


def silent() -> None:
    """Keep the library from printing what it does."""
    from OCP.Message import Message, Message_Gravity

    for printer in Message.DefaultMessenger_s().Printers():
        printer.SetTraceLevel(Message_Gravity.Message_Alarm)
