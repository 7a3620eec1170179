"""The proof of early signs and of the call, on invented players."""
