import os

from django.core.asgi import get_asgi_application

from ruggedraft.project.staying import settle_in

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ruggedraft.project.settings")
os.environ.setdefault("RAFT_DATABASE_POOL", "1")
application = get_asgi_application()
settle_in()
