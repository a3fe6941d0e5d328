"""Murvan's end: one question at a time, its own answer or none. A dropped, garbled or late line never loses or invents a reading."""

from __future__ import annotations

import math
import os
import select
import socket
import termios
import time
import tty
from dataclasses import dataclass
from typing import Protocol

from murvan.field.instruments.lines import LONGEST, GarbledError, Line, parsed, said_state
from murvan.field.places import Place
from murvan.kinds.readings import INSTRUMENTS, QUANTITIES, READS
from murvan.model.edit import make
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Reading
from murvan.units import UnitError, parse, short

WAIT_S, TRIES = 3.0, 3
PORT = 7215
BAUD = termios.B9600


class InstrumentError(JobValueError):
    """An instrument that can't be reached or says nothing that can be used."""


class _Way(Protocol):
    def send(self, data: bytes) -> None: ...
    def take(self, wait_s: float) -> bytes:
        """What has come, b'' after the wait. Raises OSError: the other end has gone."""
        ...

    def close(self) -> None: ...


class _Socket:
    def __init__(self, host: str, port: int, wait_s: float) -> None:
        self._socket = socket.create_connection((host, port), wait_s)

    def send(self, data: bytes) -> None:
        self._socket.sendall(data)

    def take(self, wait_s: float) -> bytes:
        self._socket.settimeout(max(wait_s, 1e-3))
        try:
            found = self._socket.recv(4096)
        except TimeoutError:
            return b""
        if not found:
            raise ConnectionResetError("it hung up")
        return found

    def close(self) -> None:
        self._socket.close()


class _Serial:
    """A serial line, 9600 baud, eight bits."""

    def __init__(self, name: str) -> None:
        self._file = os.open(name, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
        try:
            tty.setraw(self._file)
            own = termios.tcgetattr(self._file)
            own[4] = own[5] = BAUD
            termios.tcsetattr(self._file, termios.TCSANOW, own)
        except termios.error as exc:
            os.close(self._file)
            raise OSError(exc.args[0], f"{name} is no serial line") from None

    def send(self, data: bytes) -> None:
        os.write(self._file, data)

    def take(self, wait_s: float) -> bytes:
        ready, _, _ = select.select([self._file], [], [], max(wait_s, 0.0))
        return os.read(self._file, 4096) if ready else b""

    def close(self) -> None:
        os.close(self._file)


def _opened(address: str, wait_s: float) -> _Way:
    if address.startswith("/"):
        return _Serial(address)
    host, _, port = address.rpartition(":")
    host, port = (host, port) if host else (port, str(PORT))
    if not port.isdigit() or not 0 < int(port) < 65536:
        raise InstrumentError(
            f"“{short(address)}” is no instrument: a host with its port, or a serial line, is meant."
        )
    return _Socket(host, int(port), wait_s)


@dataclass(frozen=True)
class _Said:
    value: float
    instrument: str
    simulated: bool


class Instrument:
    """A line to instruments. Use as a context; raises InstrumentError when it can't be opened.

    Args:
        address: host and port, `192.0.2.7:7215`, or a serial line, `/dev/ttyUSB0`.
        wait_s: how long an answer may take.
    """

    def __init__(self, address: str, wait_s: float = WAIT_S) -> None:
        self.address, self._wait_s, self._number, self._left = address.strip(), wait_s, 0, b""
        try:
            self._way = _opened(self.address, wait_s)
        except OSError as exc:
            raise InstrumentError(
                f"No instrument answers at {short(self.address)}: {exc.strerror or exc or 'it does not answer'}."
            ) from None

    def __enter__(self) -> Instrument:
        return self

    def __exit__(self, *_: object) -> None:
        self._way.close()

    def read(self, job: Job, place: Place, reading_id: str, taken: str = "", person: str = "") -> Reading:
        """What is read at a place now. Raises InstrumentError: nothing came that can be used; nothing is invented."""
        said = self._value(place)
        known = next((x for x in INSTRUMENTS.values() if x.name == said.instrument), READS[place.quantity])
        return make(
            Reading,
            f"{said.instrument or 'Instrument'}, {place.word}",
            id=reading_id,
            at=place.at,
            hole=place.hole,
            quantity=place.quantity,
            value=said.value,
            instrument=said.instrument[:200],
            simulated=said.simulated,
            taken=taken,
            person=person,
            layout=job.design.layout,
            uncertainty=known.uncertainty,
            state=place.state,
        )

    def _value(self, place: Place) -> _Said:
        trouble = "nothing came"
        for _ in range(TRIES):
            self._number += 1
            question = Line("?", self._number, ("read", place.word, place.quantity, *said_state(place.state)))
            try:
                self._way.send(f"{question.text()}\n".encode())
                answer, trouble = self._answer(self._number)
            except OSError as exc:
                raise InstrumentError(f"{short(self.address)} hung up: {exc.strerror or exc}.") from None
            if answer is not None:
                return _checked(answer, place)
        raise InstrumentError(f"{place.name}: no answer from {short(self.address)} in {TRIES} tries; {trouble}.")

    def _answer(self, number: int) -> tuple[Line | None, str]:
        """The answer to a question; those to earlier ones come too late and are let go."""
        until, trouble = time.monotonic() + self._wait_s, "nothing came"
        while (left := until - time.monotonic()) > 0:
            while b"\n" in self._left:
                one, _, self._left = self._left.partition(b"\n")
                try:
                    line = parsed(one.decode("utf-8", "replace"))
                except GarbledError as exc:
                    return None, f"a line was garbled, {exc}"
                if line.number == number and line.sort != "?":
                    return line, ""
                trouble = "an answer came too late"
            if len(self._left) > LONGEST:
                self._left = b""
                return None, "a line had no end"
            self._left += self._way.take(left)
        return None, trouble


def _checked(answer: Line, place: Place) -> _Said:
    """Raises InstrumentError: it refuses, answers for another place, or with a figure that can't be."""
    if answer.sort == "!":
        raise InstrumentError(f"{place.name}: the instrument says “{short('|'.join(answer.fields))}”.")
    if len(answer.fields) != 6 or answer.fields[:2] != (place.word, place.quantity):
        raise InstrumentError(f"{place.name}: the instrument answered for something else.")
    _, _, figure, unit, name, how = answer.fields
    of = QUANTITIES[place.quantity]
    try:
        value = parse(of.shown_as, f"{figure} {unit}", "si")
    except UnitError as exc:
        raise InstrumentError(f"{place.name}: {exc}") from None
    if not unit or not math.isfinite(value) or not of.least <= value <= of.most:
        raise InstrumentError(f"{place.name}: {short(figure)} {short(unit)} can't be what is read there.")
    return _Said(value, name, how == "sim")
