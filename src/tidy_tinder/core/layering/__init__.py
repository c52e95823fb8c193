"""Pencil on paper as films of absorbing and scattering wax over a tooth (docs/model.md)."""
