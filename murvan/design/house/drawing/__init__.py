"""Strokes on the plan as pure edits: rooms, walls, openings, storeys, snaps, the pace table and traced drawings."""
