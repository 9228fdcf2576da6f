"""The stations of the run, one module each, and the lines that they share."""
