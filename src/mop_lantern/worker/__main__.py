"""Run the worker: ``python -m mop_lantern.worker``."""

from __future__ import annotations

import faulthandler
import os
import sys
from typing import NoReturn

from mop_lantern.worker.leash import end_with_caller


def main() -> NoReturn:
    """Start the worker with a lower priority than the window's."""
    end_with_caller(True)
    faulthandler.enable()
    os.nice(5)
    from mop_lantern.worker.serving import Worker  # after the leash: loading the solvers takes seconds

    Worker().loop()
    sys.stdout.flush()
    os._exit(0)  # taking the solvers down piece by piece takes a second, for which every run would wait


if __name__ == "__main__":
    main()
