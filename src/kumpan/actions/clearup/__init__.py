"""Clear-up: what a shock or an algae run would be, and beginning one."""
