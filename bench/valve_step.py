"""Writes the STEP file of the demo valve body: what the water fills of a globe-shaped body with a sampling
neck.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

from mop_lantern.shape import step_child

SHIPPED = Path(__file__).parents[1] / "src/mop_lantern/demos/models/valve-body.step"


def write(path: Path, unit: str = "MM", flange: str = "") -> None:
    """Write the body; its faces are named by what lies on them. ``unit`` : MM, M or INCH. ``flange`` : the
    colour of one beside it, or none.
    """
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakeSphere
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
    from OCP.Interface import Interface_Static
    from OCP.STEPCAFControl import STEPCAFControl_Writer
    from OCP.TCollection import TCollection_ExtendedString
    from OCP.TDataStd import TDataStd_Name
    from OCP.TDocStd import TDocStd_Document
    from OCP.XCAFDoc import XCAFDoc_DocumentTool

    bore = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), 15, 150).Shape()
    globe = BRepPrimAPI_MakeSphere(gp_Pnt(60, 0, 0), 24).Shape()
    neck = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(60, 0, 0), gp_Dir(0, 0, 1)), 10, 45).Shape()
    body = BRepAlgoAPI_Fuse(BRepAlgoAPI_Fuse(bore, globe).Shape(), neck).Shape()
    STEPCAFControl_Writer()  # settings are known once there has been one
    Interface_Static.SetIVal_s("write.stepcaf.subshapes.name", 1)
    Interface_Static.SetCVal_s("write.step.unit", unit)
    document = TDocStd_Document(TCollection_ExtendedString("MDTV-XCAF"))
    XCAFDoc_DocumentTool.SetLengthUnit_s(document, 1e-3)
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    label = tool.AddShape(body, False)
    TDataStd_Name.Set_s(label, TCollection_ExtendedString("Valve body"))
    for face in step_child._faces(body):
        TDataStd_Name.Set_s(tool.AddSubShape(label, face), TCollection_ExtendedString(_called(face)))
    if flange:
        from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
        from OCP.XCAFDoc import XCAFDoc_ColorType

        ring = tool.AddShape(
            BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(-10, 0, 0), gp_Dir(1, 0, 0)), 30, 12).Shape(), False
        )
        TDataStd_Name.Set_s(ring, TCollection_ExtendedString("Flange"))
        shades = [int(flange[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        XCAFDoc_DocumentTool.ColorTool_s(document.Main()).SetColor(
            ring,
            Quantity_Color(*shades, Quantity_TypeOfColor.Quantity_TOC_sRGB),
            XCAFDoc_ColorType.XCAFDoc_ColorSurf,
        )
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    writer.Transfer(document)
    writer.Write(str(path))
    text = path.read_text()
    path.write_text(
        re.sub(
            r"FILE_NAME\(.*?\);",
            "FILE_NAME('valve-body','',(''),(''),'','','');",
            re.sub(r"FILE_DESCRIPTION\(.*?\);", "FILE_DESCRIPTION((''),'2;1');", text, flags=re.S),
            flags=re.S,
        )
    )


def _called(face: object) -> str:
    """Name a face by its area's middle."""
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps

    sums = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, sums)
    middle = sums.CentreOfMass()
    x, z = middle.X(), middle.Z()
    if x < 1:
        return "inlet"
    if x > 149:
        return "outlet"
    if z > 44.9:
        return "top"
    if z > 25:
        return "neck"
    return "globe" if 45 < x < 75 else "inlet bore" if x < 60 else "outlet bore"


if __name__ == "__main__":
    write(Path(sys.argv[1]) if len(sys.argv) > 1 else SHIPPED)
