"""A sheet folded numerically from its pattern alone: its flat facets, what hangs on what, and the bends."""

import numpy as np


def folded(pattern):
    """Points of every facet in space, (k, 3) each; the first facet lies in the plane z = 0."""
    turn = {b.between: b for b in pattern.bends if b.between[1] >= 0}
    placed: dict[int, tuple[np.ndarray, np.ndarray]] = {}

    def place(k):
        if k not in placed:
            on = pattern.tree[k]
            if on < 0:
                placed[k] = (np.eye(3), np.zeros(3))
            else:
                rotation, shift = place(on)
                bend = turn.get((on, k))
                if bend is None:
                    placed[k] = rotation, shift
                else:
                    own, about = about_line(bend)
                    placed[k] = rotation @ own, rotation @ about + shift
        return placed[k]

    out = []
    for k, facet in enumerate(pattern.facets):
        rotation, shift = place(k)
        flat = np.column_stack([facet, np.zeros(len(facet))])
        out.append(flat @ rotation.T + shift)
    return out


def about_line(bend):
    """Rotation and shift that turn the plane about a bend line by its angle (Rodrigues)."""
    a, b = np.array([*bend.start_m, 0.0]), np.array([*bend.end_m, 0.0])
    axis = (b - a) / np.linalg.norm(b - a)
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    t = np.radians(bend.angle_deg)
    rotation = np.eye(3) + np.sin(t) * k + (1 - np.cos(t)) * k @ k
    return rotation, a - rotation @ a


def as_it_stands(found, wanted):
    """Largest distance between folded points and those of the piece, once the first facets lie on each other."""
    a, b = found[0], wanted[0]

    def frame(p):
        x = (p[1] - p[0]) / np.linalg.norm(p[1] - p[0])
        n = np.cross(p[1] - p[0], p[2] - p[0])
        n = n / np.linalg.norm(n)
        return np.column_stack([x, np.cross(n, x), n]), p[0]

    (fa, oa), (fb, ob) = frame(a), frame(b)
    rotation = fb @ fa.T
    return max(
        float(np.linalg.norm((p - oa) @ rotation.T + ob - q, axis=1).max())
        for p, q in zip(found, wanted, strict=True)
    )


def hole_m2(hole):
    return np.pi * hole.size_m[0] ** 2 / 4 if len(hole.size_m) == 1 else hole.size_m[0] * hole.size_m[1]


def net_m2(pattern):
    """Of the facets of a pattern laid flat, holes out, without what is added: by the shoelace sum."""

    def area(p):
        x, y = p.T
        return 0.5 * abs(x @ np.roll(y, -1) - y @ np.roll(x, -1))

    return sum(area(f) for f in pattern.facets) - sum(map(hole_m2, pattern.holes))


def solid_m2(solid):
    """Of a piece in space, holes out."""

    def area(p):
        fan = np.cross(p[1:-1] - p[0], p[2:] - p[0])
        return np.linalg.norm(fan.sum(axis=0)) / 2

    return sum(area(solid.points[list(f)]) for f in solid.facets) - sum(map(hole_m2, solid.holes))
