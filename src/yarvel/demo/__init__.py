"""The made-up workshop that the demo opens with."""
