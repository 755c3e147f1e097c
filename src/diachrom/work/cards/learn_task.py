"""Learning that goes on while the pages answer; nothing is kept of it before it is taken."""

from pathlib import Path

from diachrom.errors import InvalidInput, NotFound
from diachrom.store.connection import connected
from diachrom.words import say
from diachrom.work.cards.learning import Lesson, lesson
from diachrom.work.kit.tasks import Task, Tasks

KIND = "learning"
STEPS = 1000


class LearnTask(Task):
    lesson: Lesson | None = None

    def work(self, folder: Path) -> None:
        """Learn from all cards that count."""
        with connected(folder) as connection:
            self.lesson = lesson(connection, progress=lambda share: self.tell(round(STEPS * share), STEPS))
        self.tell(STEPS, STEPS)


def start(tasks: Tasks) -> None:
    """The one that is going on, or a new one."""
    tasks.start(KIND, lambda known: known if known is not None and known.going_on else LearnTask())


def now(tasks: Tasks) -> LearnTask | None:
    """The search that goes on, or went on last."""
    return tasks.of(KIND, LearnTask)


def found(tasks: Tasks) -> Lesson:
    """What may be taken. Raises NotFound, InvalidInput."""
    task = now(tasks)
    if task is None:
        raise NotFound(say("Nothing is learned yet on this server: start learning first."), field="learning")
    if task.lesson is None or not task.finished:
        raise InvalidInput(say("Learning is still running; nothing was changed."), field="learning")
    return task.lesson
