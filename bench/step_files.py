"""Bodies made by the STEP library, for tests and demos."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from mop_lantern.shape.step_writing import Part, write_step

__all__ = ["Part", "write_step"]


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
