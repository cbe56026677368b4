"""What ropes, slings, hitches and connectors went through, and what becomes of them."""
