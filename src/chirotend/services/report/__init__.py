"""Pages to take along: for a clinician, a teacher, a repairer."""
