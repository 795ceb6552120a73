"""Pictures of shapes and fields, drawn by VTK without any window."""

from mop_lantern.scene.picture import Picture, ViewOptions

__all__ = ["Picture", "ViewOptions"]
