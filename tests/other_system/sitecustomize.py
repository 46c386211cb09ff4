"""Loaded by every Python whose path begins here: a system without what Unix alone has, as far as the program sees
it."""

import builtins
import os
import signal
import subprocess

LACKING = ("fcntl", "resource", "grp", "pwd", "termios")
OURS = ("vellumcut", "filelock")
_import = builtins.__import__


def _imported(name, globals=None, locals=None, fromlist=(), level=0):
    asking = (globals or {}).get("__name__", "")
    if name.split(".")[0] in LACKING and asking.split(".")[0] in OURS:
        raise ImportError(f"No module named {name!r} on this system")
    return _import(name, globals, locals, fromlist, level)


builtins.__import__ = _imported
# There a process that is killed is terminated: there are no signals for it.
subprocess.Popen.kill = subprocess.Popen.terminate
for word in ("SIGKILL", "SIGXCPU", "SIGSTOP"):
    delattr(signal, word)
del os.nice
