"""Restock over HTTP: what to buy, what can go, what to pack, the list, prices, what runs out."""
