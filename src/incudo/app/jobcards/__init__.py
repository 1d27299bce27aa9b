"""Use cases of jobcards: the card, the bench, handing in, checking."""
