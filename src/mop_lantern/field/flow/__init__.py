"""Laminar flow on any mesh: SIMPLEC, one outer iteration a step; steady, or implicit in time.

Method: collocated finite volumes; SIMPLEC (Van Doormaal and Raithby, Numer. Heat Transfer 7 (1984) 147-163);
face fluxes after Rhie and Chow, independent of relaxation and of the time step; Anderson acceleration; all as
measured in our feasibility study. Time: second-order backward differences (BDF2). Everything is divided by a
reference density, so that a density that varies enters as the ratio to it; body forces are taken out of the
pressure gradient before it is formed, so that a fluid at rest stays at rest. The solver steps:
`FlowSolver.step()` does one outer iteration.
"""

from mop_lantern.field.flow.following import Following
from mop_lantern.field.flow.solver import FlowSolver
from mop_lantern.field.flow.state import FlowSettings, FlowState, Step
from mop_lantern.field.flow.still import StillFlow

__all__ = ["FlowSettings", "FlowSolver", "FlowState", "Following", "Step", "StillFlow"]
