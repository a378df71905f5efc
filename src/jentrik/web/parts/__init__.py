"""What many pages show alike: fields, words, columns, pages of a list, addresses, the verdict."""
