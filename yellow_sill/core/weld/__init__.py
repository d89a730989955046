"""Joints, starting settings, the order of the tacks and the heat they leave in the plate."""
