"""The station Air: who gets how much, and what the air does as doors and zones change."""
