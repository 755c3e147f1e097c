"""Work in the background: what came of a press of stop is said when it is known."""

import subprocess
import sys
import threading

from diachrom.work.kit.tasks import Task, Tasks


class Writing(Task):
    """Tells how far it is whenever it is let, and ends with what cannot be stopped any more."""

    def __init__(self, tells):
        super().__init__()
        self.tells, self.let, self.reached = tells, threading.Semaphore(0), threading.Semaphore(0)

    def work(self, folder):
        for at in range(self.tells):
            self.tell(at, self.tells)
            self.reached.release()
            self.let.acquire()


def test_what_was_stopped_too_late_is_finished_and_never_called_stopped(tmp_path):
    task = Tasks(tmp_path).start("writing", lambda _: Writing(1))
    assert task.reached.acquire(timeout=30)
    task.stop()  # after its last word: it is being written
    assert (task.running, task.going_on, task.stopped) == (True, False, False)
    task.let.release()
    assert task.wait(30)
    assert (task.finished, task.stopped, task.running) == (True, False, False)


def test_what_was_stopped_in_time_is_called_so_when_it_has_let_go(tmp_path):
    task = Tasks(tmp_path).start("writing", lambda _: Writing(2))
    assert task.reached.acquire(timeout=30)
    task.stop()
    assert (task.running, task.stopped) == (True, False)
    task.let.release()
    assert task.wait(30)
    assert (task.finished, task.stopped, task.running) == (False, True, False)


def test_when_the_server_goes_nothing_goes_on(tmp_path):
    tasks = Tasks(tmp_path)
    both = [tasks.start(kind, lambda _: Writing(2)) for kind in ("one", "other")]
    for task in both:
        assert task.reached.acquire(timeout=30)
    tasks.stop_all()
    for task in both:
        task.let.release()
        assert task.wait(30)
    assert [task.stopped for task in both] == [True, True]


GOES_ON = """
import threading, time
from diachrom.core.mix.together import together

def work():
    while True:
        together(lambda part: sum(range(20_000)), [1, 2])

threading.Thread(target=work, daemon=True).start()
time.sleep(0.3)
"""


def test_what_goes_on_when_everything_ends_ends_without_a_word():
    ended = subprocess.run([sys.executable, "-c", GOES_ON], capture_output=True, text=True, check=False)
    assert (ended.returncode, ended.stderr) == (0, "")
