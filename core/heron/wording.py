"""Numbers in sentences."""


def grouped(n: int) -> str:
    """A whole number with thin spaces between thousands, from 10,000 up: 10 400."""
    return f"{n:,}".replace(",", "\u2009") if abs(n) >= 10_000 else str(n)


def counted(n: int, noun: str, plural: str | None = None) -> str:
    """A number with its noun: 1 row, 5 rows."""
    return f"{grouped(n)} {noun if n == 1 else plural or noun + 's'}"


def there_are(n: int) -> str:
    """There is 1, there are 5."""
    return "there is 1" if n == 1 else f"there are {grouped(n)}"
