"""Pictures that are measured on."""
