"""Run folders: fields in an open format, readings, trust list, traces; all can be reopened without
solving.
"""

from mop_lantern.results.cellfile import read_field, write_field
from mop_lantern.results.comparison import Deviation, deviation, fit, write_comparison
from mop_lantern.results.profile import profile
from mop_lantern.results.runs import (
    RunRecord,
    keep_step,
    latest,
    load_run,
    new_run,
    newest_record,
    open_answer,
    open_step,
    open_working,
    runs_folder,
    save_both,
    save_network,
    save_run,
)
from mop_lantern.results.states import keep_state, open_state, state_times
from mop_lantern.results.table import write_profile, write_readings

__all__ = [
    "Deviation",
    "RunRecord",
    "deviation",
    "fit",
    "keep_state",
    "keep_step",
    "latest",
    "load_run",
    "new_run",
    "newest_record",
    "open_answer",
    "open_state",
    "open_step",
    "open_working",
    "profile",
    "read_field",
    "runs_folder",
    "save_both",
    "save_network",
    "save_run",
    "state_times",
    "write_comparison",
    "write_field",
    "write_profile",
    "write_readings",
]
