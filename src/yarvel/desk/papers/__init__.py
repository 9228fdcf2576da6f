"""What is printed: bench card, sheets, templates, receipts and invoices."""
