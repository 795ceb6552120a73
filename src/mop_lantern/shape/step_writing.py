"""Shapes of the STEP library written as a file: parts with names, colours, and names of their faces.

To be used in a process of its own only: the library may crash, and prints what it likes.
"""

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
        if part.called is not None:
            for face in step_child._faces(part.shape):
                named = TCollection_ExtendedString(part.called(face))
                TDataStd_Name.Set_s(tool.AddSubShape(label, face), named)
        if part.colour:
            _paint(document, label, part.colour)
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    writer.Transfer(document)
    writer.Write(str(path))
    head = re.sub(r"FILE_DESCRIPTION\(.*?\);", "FILE_DESCRIPTION((''),'2;1');", path.read_text(), flags=re.S)
    named = f"FILE_NAME('{path.stem}','',(''),(''),'','','');"
    path.write_text(re.sub(r"FILE_NAME\(.*?\);", lambda _: named, head, flags=re.S))
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


def silent() -> None:
    """Keep the library from printing what it does."""
    from OCP.Message import Message, Message_Gravity

    for printer in Message.DefaultMessenger_s().Printers():
        printer.SetTraceLevel(Message_Gravity.Message_Alarm)
