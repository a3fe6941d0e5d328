"""Strokes on the plan: small state machines that turn pointer and keys into one edit each."""
