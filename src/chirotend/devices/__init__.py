"""Stand-ins for what a player may own: ears, a force pad, a muscle band, a stroke scale, a camera, a microphone, a
pedal. They know the truth they show, so that what is measured can be compared with it. Seeded, no clock."""
