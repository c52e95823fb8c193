"""Speed beside a named library in the same run; `make benchmark` runs them all and writes docs/benchmarks.md."""
