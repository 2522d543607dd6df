"""What gunicorn serves."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "innerhop.project.settings")
application = get_wsgi_application()

# What is loaded now stays for good: the collector need not look through it again
# each time a page of thousands of marks is read.
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 20)
