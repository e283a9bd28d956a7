"""Speed, measured against bare references in the same run. `make bench` prints the table and writes RESULTS.md."""
