"""The command line: a contract that scripts rely on."""

from mop_lantern.cli.main import main

__all__ = ["main"]
