"""The only place that joins case, physics and results: a solve as a stream of events."""

from mop_lantern.solve.boundary_data import boundary_of, prepare
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.joint_solving import JointSolving
from mop_lantern.solve.marching import Marching
from mop_lantern.solve.network_solving import NetworkSolving
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.solving import Carried, Solving

__all__ = [
    "Carried",
    "FlowRun",
    "JointSolving",
    "Marching",
    "NetworkSolving",
    "Physics",
    "Solving",
    "boundary_of",
    "prepare",
]
