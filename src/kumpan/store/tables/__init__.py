"""The tables, one module a noun. Importing the package makes all of them known to the metadata."""

__all__ = ["accounts", "files", "jobs", "log", "plans", "pools", "shelf"]
