"""Captures: tables of samples from instruments, and what each column is."""
