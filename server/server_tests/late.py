"""Answers that come late and out of order, as on a busy machine or a long line: what tests of the browser must bear."""

import os
import random
import time
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

MOST_SECONDS = float(os.environ.get("HERON_LATE", "0"))


class Late:
    """Each question to the API waits for as long as chance has it, at most as many seconds as HERON_LATE says."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/"):
            time.sleep(random.uniform(0, MOST_SECONDS))
        return self.get_response(request)
