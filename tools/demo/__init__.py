"""The demo jobs, made by code in our own invented setting."""
