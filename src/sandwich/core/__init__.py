"""What everybody may lean on."""
