"""Simulated devices that ship with Yellow Sill: small local processes that speak the documented line formats."""
