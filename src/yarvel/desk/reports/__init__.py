"""Reports: late and at risk, why heads come back, times against standard."""
