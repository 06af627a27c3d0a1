"""The command line."""


def main() -> int:
    """Run the command line."""
    return 0
