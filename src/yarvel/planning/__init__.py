"""Job (the input), plan (the answer), calls (one module a judgement), spread (tolerance)."""
