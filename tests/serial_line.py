"""A scale's end of a serial line, as a pseudo-terminal: it sends a line again and again until it is told another."""

import os
import pty
import tempfile
import threading
import time
import tty
from pathlib import Path

EVERY_S = 0.02


class SerialLine:
    """`port` stays where it is while the line is pulled and plugged in again."""

    def __init__(self):
        self._home = tempfile.TemporaryDirectory()
        self.port = str(Path(self._home.name) / "line")
        self._lock = threading.Lock()
        self._end = threading.Event()
        self._text, self._own, self._other = b"", -1, -1
        self.plug()
        self._sender = threading.Thread(target=self._send, daemon=True)
        self._sender.start()

    def __enter__(self):
        return self

    def __exit__(self, *_):
        self._end.set()
        self._sender.join()
        self.pull()
        self._home.cleanup()

    def send(self, text):
        """From now on; what was sent before may be on its way still."""
        with self._lock:
            self._text = text.encode("latin-1")
        time.sleep(5 * EVERY_S)

    def plug(self):
        with self._lock:
            self._own, self._other = pty.openpty()
            tty.setraw(self._other)
            os.set_blocking(self._own, False)
            Path(self.port).symlink_to(os.ttyname(self._other))

    def pull(self):
        with self._lock:
            for end in (self._own, self._other):
                if end >= 0:
                    os.close(end)
            self._own = self._other = -1
            Path(self.port).unlink(missing_ok=True)

    def _send(self):
        while not self._end.wait(EVERY_S):
            with self._lock:
                try:
                    if self._own >= 0 and self._text:
                        os.write(self._own, self._text)
                except BlockingIOError:
                    pass  # nobody reads
