"""The scene alive in the desk: the clock that drives it, pointer and keys that go to it, its inputs."""
