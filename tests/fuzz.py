"""Mutated files of every kind Murvan reads, and kills in the middle of writing: `./run fuzz N` for N of each kind.

A file is taken or refused in words (JobError); no traceback, no hang, no memory over a gigabyte, no lost job.
"""

from __future__ import annotations

import io
import json
import logging
import os
import random
import resource
import signal
import subprocess
import sys
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

from murvan.demo import demo_job
from murvan.model.errors import JobError
from murvan.model.files import job_text, load_job, load_pictures, pictures_of, save_job

SLOW_S = 5.0
ODD = (
    "NaN",
    "Infinity",
    "-1",
    "1e308",
    "5e-324",
    "1" * 400,
    '""',
    "null",
    "true",
    "[]",
    "{}",
    '"\\u0000"',
    '"x"',
    "-0.0",
    "1e400",
)
TEXTS = (
    b"\x00",
    b"\xff\xfe",
    b"nan",
    b"-inf",
    b"1e999",
    b"-999",
    b"9" * 400,
    b"\n\n",
    b",,,,",
    b'"',
    b"\x1b",
    b";",
    b"!",
)


def mutated(data: bytes, chance: random.Random) -> bytes:
    """Cut short, turned over, doubled, spiked."""
    out = bytearray(data)
    for _ in range(chance.randint(1, 6)):
        if not out:
            break
        at = chance.randrange(len(out))
        how = chance.randrange(6)
        if how == 0:
            out[at] = chance.randrange(256)
        elif how == 1:
            del out[at : at + chance.randint(1, 200)]
        elif how == 2:
            out[at:at] = chance.choice(TEXTS)
        elif how == 3:
            out[at:at] = out[at : at + chance.randint(1, 400)]
        elif how == 4 and chance.random() < 0.3:
            del out[at:]
        else:
            end = at + chance.randint(1, 12)
            out[at:end] = chance.choice(TEXTS)
    return bytes(out)


def spiked(raw: object, chance: random.Random) -> str:
    """JSON text with a value or two put in that nobody would."""
    text = json.dumps(raw)
    for _ in range(chance.randint(1, 3)):
        spots = [k for k, c in enumerate(text) if c == ":"]
        at = chance.choice(spots) + 1
        end = at
        depth = 0
        while end < len(text) and not (depth == 0 and text[end] in ",}]"):
            depth += (text[end] in "[{") - (text[end] in "]}")
            end += 1
        text = f"{text[:at]} {chance.choice(ODD)}{text[end:]}"
    return text


# ---- kinds ----


def jobs_json(folder: Path, chance: random.Random) -> Callable[[], object]:
    raw = json.loads(job_text(demo_job(chance.choice(("demo", "bungalow", "narrow")))))
    file = folder / "a.json"
    file.write_text(spiked(raw, chance), "utf-8")
    return lambda: _solved(file)


def _solved(file: Path) -> object:
    import numpy as np

    from murvan.design import solve

    r = solve(load_job(file))
    for a in (r.loads.sensible_w, r.loads.heating_w, r.loads.latent_w, r.room_m3_s):
        assert np.isfinite(a).all(), "a figure that is none"
    return r


def jobs_zip(folder: Path, chance: random.Random) -> Callable[[], object]:
    file = folder / "a.murvan"
    pack = io.BytesIO()
    how = chance.choice((zipfile.ZIP_DEFLATED, zipfile.ZIP_STORED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA))
    with zipfile.ZipFile(pack, "w", how) as z:
        z.writestr("job.json", job_text(demo_job()))
        z.writestr("photos/one.png", os.urandom(900))
        z.writestr("notes.txt", "kept")
    file.write_bytes(mutated(pack.getvalue(), chance))

    def act() -> None:
        job = load_job(file)
        load_pictures(file, {*pictures_of(job), "photos/one.png"})
        save_job(job, file)
        assert load_job(file) == job

    return act


def readings(folder: Path, chance: random.Random) -> Callable[[], object]:
    from murvan.field.readings import readings_csv
    from tests.taken import import_csv

    text = mutated(readings_csv(demo_job(), "ip").encode(), chance).decode("utf-8", "replace")
    return lambda: import_csv(demo_job(), text, chance.choice(("ip", "si")))


def paced(folder: Path, chance: random.Random) -> Callable[[], object]:
    from murvan.design.drawing.pace import from_csv, rows_of, to_csv

    text = mutated(to_csv(rows_of(demo_job(), "ground"), "ip").encode(), chance).decode("utf-8", "replace")
    return lambda: from_csv(text, "ip")


def weather(suffix: str) -> Callable[[Path, random.Random], Callable[[], object]]:
    def make(folder: Path, chance: random.Random) -> Callable[[], object]:
        from murvan.design.weather.files import read_weather
        from murvan.design.weather.place import climate_of
        from tests.weather_samples import sample

        file = folder / f"a{suffix}"
        file.write_bytes(mutated(sample(suffix), chance))
        return lambda: climate_of(read_weather(file))

    return make


def dxf(folder: Path, chance: random.Random) -> Callable[[], object]:
    import ezdxf

    from murvan.design.drawing.trace import read_dxf

    ezdxf.options.write_fixed_meta_data_for_testing = True  # the same seed, the same file
    document = ezdxf.new()  # type: ignore[attr-defined]
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (9, 0), (9, 6), (0, 6)], close=True)
    space.add_circle((3, 3), 1)
    space.add_text("Hall").set_placement((2, 2))
    text = io.StringIO()
    document.write(text)
    file = folder / "a.dxf"
    file.write_bytes(mutated(text.getvalue().encode(), chance))
    return lambda: read_dxf(file)


KINDS: dict[str, Callable[[Path, random.Random], Callable[[], object]]] = {
    "job JSON": jobs_json,
    "job zip": jobs_zip,
    "readings": readings,
    "room list": paced,
    "EPW": weather(".epw"),
    "DDY": weather(".ddy"),
    "STAT": weather(".stat"),
    "DXF": dxf,
}


def troubles(kind: str, count: int, seed: int) -> Iterator[str]:
    """What went wrong with `count` mutated files of a kind."""
    chance = random.Random(f"{kind} {seed}")
    with tempfile.TemporaryDirectory() as name:
        for k in range(count):
            act = KINDS[kind](Path(name), chance)
            start = time.process_time()
            try:
                act()
            except JobError as refusal:
                if not str(refusal).strip() or "\n" in str(refusal):
                    yield f"{kind} {k}: refused without words: {refusal!r}"
            except Exception as trouble:
                yield f"{kind} {k}: {type(trouble).__name__}: {str(trouble)[:300]}"
            took = time.process_time() - start  # a busy machine is not a slow reader
            if took > SLOW_S:
                yield f"{kind} {k}: took {took:.1f} s"


# ---- kills ----

WRITER = """
import sys, random
from murvan.demo import demo_job
from murvan.model.edit import changed
from murvan.model.files import save_job
job = demo_job()
print("go", flush=True)
for k in range(10 ** 6):
    save_job(changed(job, "", number=str(k)), sys.argv[1])
"""


def kills(count: int, seed: int) -> Iterator[str]:
    """Kill a process that saves one job over and over; the job and its previous copy must always open."""
    chance = random.Random(seed)
    root = Path(__file__).parents[1]
    with tempfile.TemporaryDirectory() as name:
        file = Path(name) / "a.murvan"
        save_job(demo_job(), file)
        for k in range(count):
            command = [sys.executable, "-c", WRITER, str(file)]
            child = subprocess.Popen(
                command, stdout=subprocess.PIPE, cwd=root, env={**os.environ, "PYTHONPATH": str(root)}
            )
            assert child.stdout is not None
            child.stdout.readline()
            time.sleep(chance.uniform(0.0, 0.15))
            child.send_signal(signal.SIGKILL)
            child.wait()
            child.stdout.close()
            for one in (file, file.with_name(file.name + ".previous")):
                try:
                    if one.exists():
                        load_job(one)
                except JobError as trouble:
                    yield f"kill {k}: {one.name}: {trouble}"
        save_job(demo_job(), file)
        left = [p.name for p in Path(name).iterdir() if p.name.startswith(".")]
        if left:
            yield f"{len(left)} temporary files stayed: {left[:3]}"


def main(args: list[str]) -> int:
    logging.disable(logging.WARNING)
    count, seed = int(args[0]) if args else 200, int(args[1]) if len(args) > 1 else 1
    bad = 0
    for kind in KINDS:
        for line in troubles(kind, count, seed):
            bad += 1
            print(line, flush=True)
    for line in kills(max(count // 10, 10), seed):
        bad += 1
        print(line, flush=True)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
    if peak > 1.0:
        bad += 1
    print(
        f"{count} files of each of {len(KINDS)} kinds, {max(count // 10, 10)} kills: {bad} with trouble, {peak:.2f} GB at most"
    )
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
