"""What gunicorn serves."""

import gc
import os

from django.conf import settings
from django.core.wsgi import get_wsgi_application
from django.template import loader
from django.urls import reverse

from innerhop.project.compressed import compress

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "innerhop.project.settings")
# No statement of a request works on for ever after its editor has gone: five minutes are
# for a change of a whole site; screens set less (`screens.access`).
# https://www.postgresql.org/docs/15/libpq-envars.html
os.environ.setdefault("PGOPTIONS", "-c statement_timeout=300s")
compress(settings.BASE_DIR)  # before the files are listed that can be sent
application = get_wsgi_application()

# Every screen's code and templates are read now, once for all processes, and not by whoever comes
# first to each of them.
reverse("sites")
for folder in (settings.BASE_DIR / "innerhop" / "screens").glob("*/templates"):
    for file in folder.glob("**/*.html"):
        loader.get_template(str(file.relative_to(folder)))

# What is loaded now stays for good: the collector need not look through it again
# each time a page of thousands of marks is read.
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 20)
