"""A helper that never comes back from a file, unless that was left out before: for tests of who waits for it."""

import sys
import time

from chalcedon.files.shelf import kept_summary

if __name__ == "__main__":
    for file in sys.argv[sys.argv.index("--") + 1 :]:
        if kept_summary(file) is None:
            print(f'{{"begun":"{file}"}}', flush=True)
            time.sleep(600)
