from django.db import models


class View(models.Model):
    """A view of somebody's interface ("7/stack-density"): its newest question, how much of the answer is worked, and
    what is to be known of how.

    The table is unlogged: after a crash of the database it is empty, and no answer depends on it.
    """

    name = models.CharField(primary_key=True, max_length=200)
    newest = models.BigIntegerField()
    share = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)
    asked = models.DateTimeField(auto_now_add=True, db_index=True)
