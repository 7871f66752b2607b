"""ACI 318-14: what differs from ACI 318-19 in shells and walls."""
