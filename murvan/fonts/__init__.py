"""Inter, with its licence (SIL Open Font License 1.1, OFL.txt)."""
