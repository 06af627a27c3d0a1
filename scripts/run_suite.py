"""Run one unittest module and print «suite-result PASSED FAILED SKIPPED» for scripts/check.py."""

import sys
import unittest


def main() -> int:
    """Run the module named on the command line."""
    suite = unittest.defaultTestLoader.loadTestsFromName(sys.argv[1])
    result = unittest.TextTestRunner(stream=sys.stderr, verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = max(0, result.testsRun - len(result.skipped) - failed)
    if result.testsRun == 0:
        failed += 1
    print(f"suite-result {passed} {failed} {len(result.skipped)}", flush=True)
    return 1 if failed else 0


if __name__ == "__main__":
    raise SystemExit(main())
