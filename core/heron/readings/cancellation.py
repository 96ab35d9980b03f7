"""Whether somebody still waits for an answer."""


class Cancellation:
    """Whether an answer is still wanted; `check` is called between its steps. This one always is."""

    def check(self) -> None:
        """End the answer, by an error, where it is not wanted any more."""

    def progress(self, share: float) -> None:
        """So much of the answer is worked, from 0 to 1; ends it where it is not wanted any more."""
        self.check()

    def tell(self, words: str) -> None:
        """Something is to be known of how the answer is worked."""
