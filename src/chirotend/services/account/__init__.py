"""Accounts, passwords, browsers that are signed in."""
