"""What is kept: SQLite through sqlite3, one module a noun. SQL lives here only."""
