import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "trelvo.server.settings")
_django = get_asgi_application()

from trelvo.server.bounds import BoundedBodies  # noqa: E402  Django's settings come first

application = BoundedBodies(_django)
