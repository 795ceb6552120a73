"""Starting workers and speaking with them."""

from mop_lantern.jobs.client import run_to_end, worker_command, worker_environment
from mop_lantern.jobs.frames import read_frame, read_mesh

__all__ = ["read_frame", "read_mesh", "run_to_end", "worker_command", "worker_environment"]
