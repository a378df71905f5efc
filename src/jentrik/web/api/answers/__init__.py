"""What the API answers with, as named models, a module a subject."""
