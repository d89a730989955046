from django.urls import path

from . import waited

app_name = "frame"
urlpatterns = [
    path("waiting/", waited.page, name="waiting"),
    path("waiting/who/", waited.who, name="who"),
    path("worker.js", waited.worker, name="worker"),
]
