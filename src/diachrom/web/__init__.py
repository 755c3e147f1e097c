"""Pages and the HTTP API. No SQL, no NumPy: it asks `work`, and turns answers into typed page contexts."""
