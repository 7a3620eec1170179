"""What the server itself needs: its database, copies, checks, certificate, background work."""
