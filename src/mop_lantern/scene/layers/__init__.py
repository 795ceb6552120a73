"""Kinds of layer drawn on the stage: one file each. A layer gives VTK props from a
`scene.plane_stage.PlaneContext`.
"""
