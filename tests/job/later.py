"""A runner that does its work when it is told to: what happens while something is under way."""

from __future__ import annotations


class Later:
    """Keeps what is started, newest of each topic; `do` does it and tells the answers."""

    def __init__(self):
        self.waiting = {}

    @property
    def busy(self):
        return bool(self.waiting)

    def start(self, topic, work, *, returned, failed, progressed=None, first=False):
        self.waiting[topic] = (work, returned, failed)

    def stop(self, topic):
        self.waiting.pop(topic, None)

    def stop_all(self):
        self.waiting.clear()

    def do(self, topic):
        """Do one piece of work, by the beginning of its topic."""
        name = next(name for name in self.waiting if name.startswith(topic))
        work, returned, failed = self.waiting.pop(name)
        try:
            value = work(lambda _: None)
        except Exception as error:
            failed(error)
        else:
            returned(value)

    def do_all(self, most=2000):
        """Do everything, and what follows from it."""
        while self.waiting:
            most -= 1
            assert most > 0, f"never at rest: {list(self.waiting)[:3]}"
            self.do(next(iter(self.waiting)))
