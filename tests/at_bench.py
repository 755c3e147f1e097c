"""Sessions at the bench, gone through press by press."""

from diachrom.core.session.events import Event
from diachrom.work.bench import sessions
from diachrom.work.kit.opened import opened

AT = "2026-11-26T18:00:00+00:00"


class Hand:
    """A painter's hand at a session: each press is a visit of its own."""

    def __init__(self, on, number):
        self.on, self.number = on, number

    @property
    def session(self):
        return self.on(sessions.session, self.number)

    @property
    def here(self):
        found = self.session
        return found.state.here(found.script)

    def does(self, kind, at=AT, **more):
        return self.on(sessions.record_event, self.number, Event(kind, sessions.seconds(at), **more), at=at)

    def goes_on(self, at=AT, **more):
        for caution in self.here.cautions:
            self.does("agree", at, what=caution)
        return self.does("next", at, step=self.here.key, **more)

    def goes_to(self, wanted):
        """On to the first step of which this is true."""
        while not wanted(self.here):
            self.goes_on()
        return self.here


def visits(folder):
    """Do something in a folder: a visit of its own each time."""

    def did(does, *args, **more):
        with opened(folder) as store:
            return does(store, *args, **more)

    return did


def over_plan_with(on):
    """Begin sessions over plans of the demo."""

    def begun(plan=1, baits=2, one_by_one=False):
        return Hand(on, on(sessions.begin_plan, plan, baits=baits, one_by_one=one_by_one, at=AT))

    return begun
