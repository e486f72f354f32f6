"""Clearing a pool: shocks and algae runs, from the first look to prevention."""
