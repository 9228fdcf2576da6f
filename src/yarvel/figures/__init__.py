"""A figure with its unit, interval, formula and origin; house rules; errors."""
