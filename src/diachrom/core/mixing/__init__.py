"""Drops, cups and what they will look like."""
