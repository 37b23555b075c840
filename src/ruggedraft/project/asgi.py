import gc
import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ruggedraft.project.settings")
os.environ.setdefault("RAFT_DATABASE_POOL", "1")
application = get_asgi_application()

# What is loaded by now stays; a card's tens of thousands of names come and go. Looking through all of it again and
# again took a sixth of the time of an answer about a large card.
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 50)
