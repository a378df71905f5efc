"""Who may come in: the guard at the door, the shop passphrase, the network, slow connections."""
