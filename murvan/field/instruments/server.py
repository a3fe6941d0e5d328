"""Simulated instruments: a virtual house served over the line protocol, also one that drops, garbles and answers late."""

from __future__ import annotations

import random
import socketserver
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

from murvan.field.instruments.lines import LONGEST, GarbledError, Line, parsed, state_of
from murvan.field.places import Place
from murvan.field.visit import Visit
from murvan.kinds.readings import QUANTITIES
from murvan.units import number, unit

HOST = "127.0.0.1"


@dataclass(frozen=True)
class Faulty:
    """How often a line is dropped, garbled or late, shares; and how late."""

    drop: float = 0.0
    garble: float = 0.0
    late: float = 0.0
    late_s: float = 1.0
    seed: int = 1


@contextmanager
def served(visit: Visit, places: dict[str, Place], port: int = 0, faulty: Faulty | None = None) -> Iterator[int]:
    """Instruments of a virtual house at a port of this machine, which is given; 0 takes a free one. Raises OSError: it is taken."""
    server = _Server(visit, places, port, faulty or Faulty())
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True)
    thread.start()
    try:
        yield int(server.server_address[1])
    finally:
        server.shutdown()
        server.server_close()
        thread.join(timeout=2)


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address, daemon_threads = True, True

    def __init__(self, visit: Visit, places: dict[str, Place], port: int, faulty: Faulty) -> None:
        self.visit, self.places, self.faulty = visit, places, faulty
        self.chance, self.lock = random.Random(faulty.seed), threading.Lock()
        super().__init__((HOST, port), _Handler)

    def answer(self, text: str) -> str | None:
        """What is said to a line; None to one that is garbled."""
        try:
            asked = parsed(text)
        except GarbledError:
            return None
        if asked.sort != "?" or asked.fields[0] != "read" or len(asked.fields) < 3:
            return Line("!", asked.number, ("read, a place and a quantity are meant",)).text()
        _, word, quantity, *stands = asked.fields
        try:
            state = state_of(tuple(stands))
        except ValueError:
            return Line("!", asked.number, ("how the house stands can't be read",)).text()
        place = self.places.get(word)
        if place is None or place.quantity != quantity:
            return Line("!", asked.number, (f"there is no {quantity} at {word}",)).text()
        try:
            with self.lock:
                reading = self.visit.take(replace(place, state=state), "x")
        except KeyError:
            return Line("!", asked.number, (f"nothing can be read at {word}",)).text()
        kind = QUANTITIES[quantity].shown_as
        figure = number(kind, reading.value, "si", 4).replace("−", "-").replace(",", "")
        return Line("=", asked.number, (word, quantity, figure, unit(kind, "si"), reading.instrument, "sim")).text()


class _Handler(socketserver.StreamRequestHandler):
    server: _Server

    def handle(self) -> None:
        while line := self.rfile.readline(LONGEST):
            said = self.server.answer(line.decode("utf-8", "replace"))
            if said is not None and not self._spoilt(said):
                return

    def _spoilt(self, said: str) -> bool:
        """Send it as well or badly as these instruments do; False once nobody listens."""
        f = self.server.faulty
        with self.server.lock:
            fate = self.server.chance.random()
        if fate < f.drop:
            return True
        if fate < f.drop + f.garble:
            said = said[: len(said) // 2] + "#" + said[len(said) // 2 + 1 :]
        elif fate < f.drop + f.garble + f.late:
            time.sleep(f.late_s)
        try:
            self.wfile.write(f"{said}\n".encode())
        except OSError:
            return False
        return True
