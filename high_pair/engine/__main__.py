"""Starts the engine's process."""

from high_pair.engine.server import main

if __name__ == "__main__":
    main()
