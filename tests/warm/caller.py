"""What stands for a worker: has one forked, lends it its input and output, and ends as it ends.

Runs by itself, ``python -I -S caller.py SOCKET``: it must start in no time.
"""

import json
import os
import signal
import socket
import sys

with socket.socket(socket.AF_UNIX) as nest:
    nest.connect(sys.argv[1])
    asked = json.dumps({"environment": dict(os.environ), "folder": os.getcwd()}) + "\n"
    socket.send_fds(nest, [asked.encode()], [0, 1, 2])
    os.close(0)
    os.close(1)
    code = nest.recv(1)
if not code:
    os.kill(os.getpid(), signal.SIGKILL)
sys.exit(code[0])
