"""What the job worker does for the whole server."""

from procrastinate.contrib.django import app

from server.accounts import events, sessions
from server.accounts.rates import forget_old_attempts
from server.joining.services import forget_visitors
from server.readings.cancellation import forget_old_views
from server.studies.services import forget_old_uploads


@app.periodic(cron="7 * * * *")
@app.task(name="sweep", queue="imports", queueing_lock="sweep")
def sweep(timestamp: int) -> None:
    """Every hour: what nobody needs any more goes."""
    forget_old_uploads()
    forget_old_views()
    forget_old_attempts()
    events.forget_old()
    sessions.forget_ended()
    forget_visitors()
