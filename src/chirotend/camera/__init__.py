"""The optional worker that suggests points on a picture. It runs by itself, in an environment of its own (`make
camera`), and knows nothing of the application but the line protocol of docs/devices.md."""
