"""Recurring work: what is due, changing it, ticking it, and the calendars others read."""
