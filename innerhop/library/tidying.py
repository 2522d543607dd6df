"""What is of no use to anybody any more goes: texts that were prepared and never saved, sessions
that have ended, tries to sign in and invitations of long ago, long work that stands, new texts that
nobody took in, who was on a page."""

from __future__ import annotations

from datetime import timedelta

from allauth.usersessions.models import UserSession
from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.contrib.sessions.models import Session
from django.db.models import Exists, OuterRef
from django.utils import timezone

from innerhop.library.jobs import jobs
from innerhop.library.models import Here, Invitation, Job, NewText, Revision

_PREPARED = timedelta(days=1)  # no change is being saved for so long
_SIGN_INS = timedelta(days=30)  # as long as anybody asks who came in
_LONG_WORK = timedelta(days=30)  # what stands, and nobody went on with
_NEWS = timedelta(days=90)  # new texts that nobody took in: the site has others by now


def tidy() -> None:
    """Throw it away. At each start, every night, and when somebody signs in by name."""
    now = timezone.now()
    Revision.objects.filter(number=None, made__lt=now - _PREPARED).delete()
    NewText.objects.filter(bring_in__made__lt=now - _NEWS).delete()
    for job in Job.objects.filter(made__lt=now - _LONG_WORK):
        if not job.is_at_work:
            jobs.throw_away(job)
    Session.objects.filter(expire_date__lt=now).delete()
    there = Session.objects.filter(session_key=OuterRef("session_key"))
    UserSession.objects.exclude(Exists(there)).delete()
    Invitation.objects.filter(made__lt=now - _SIGN_INS).delete()
    Here.objects.filter(at__lt=now - _PREPARED).delete()
    for model in (AccessAttempt, AccessFailureLog, AccessLog):
        model.objects.filter(attempt_time__lt=now - _SIGN_INS).delete()
