"""What a survey finds where ducts would go: beams, posts, pipes, drains."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.kinds.table import Table


@dataclass(frozen=True)
class ObstacleKind:
    """Something that stays where it is, so that ducts go round it. Measures are those it is first drawn with; common practice."""

    id: str
    name: str
    upright: bool
    """It stands from floor to ceiling; others hang under the ceiling."""
    round: bool
    high_m: float
    """Of one that hangs."""


OBSTACLES = Table(
    "obstacle",
    ObstacleKind("beam", "Beam", False, False, 0.24),
    ObstacleKind("post", "Post", True, False, 0.0),
    ObstacleKind("drain", "Drain", False, True, 0.11),
    ObstacleKind("stack", "Soil stack", True, True, 0.0),
    ObstacleKind("pipe", "Water or gas pipe", False, True, 0.05),
    ObstacleKind("chimney", "Chimney or flue", True, False, 0.0),
    ObstacleKind("other", "Something else", False, False, 0.2),
)
UPRIGHT_M = 0.7
"""What is no longer on the plan is drawn as a post."""
PIPE_M = 0.16
"""What is no wider on the plan is drawn as a drain; common practice."""
