"""Pictures of shapes and fields, drawn by VTK without any window."""

from mop_lantern.scene.picture import Picture
from mop_lantern.scene.view_options import ViewOptions

__all__ = ["Picture", "ViewOptions"]
