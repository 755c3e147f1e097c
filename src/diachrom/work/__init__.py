"""What a user can do, one function an action: asks the core, reads and writes through the store."""
