"""Numbers of the core turned into frozen shapes in viewBox units. Templates only write them out."""
