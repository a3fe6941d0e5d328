"""Results as documents: JSON, schedules (CSV, XLSX), the PDF set."""
