"""Writes `docs/job.schema.json` anew from the model: `python -m murvan.documents.schemas`."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from murvan.model.job import FORMAT_VERSION, Job


def job_schema() -> dict[str, Any]:
    """JSON Schema of a job file."""
    schema = Job.model_json_schema()
    return {
        **schema,
        "title": f"Murvan job, format {FORMAT_VERSION}",
        "$schema": "https://json-schema.org/draft/2020-12/schema",
    }


def main(folder: str = "docs") -> None:
    text = json.dumps(job_schema(), indent=1, ensure_ascii=False) + "\n"
    (Path(folder) / "job.schema.json").write_text(text, "utf-8")


if __name__ == "__main__":
    main(*sys.argv[1:2])
