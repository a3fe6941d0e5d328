"""Laws of nature on NumPy arrays, SI in and SI out. Knows no job, no room and no catalogue."""
