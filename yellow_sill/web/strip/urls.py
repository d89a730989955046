from django.urls import path

from .views import register

app_name = "strip"
_ALL = "v/<int:vehicle_id>/strip/"
urlpatterns = [
    path(_ALL, register.register, name="register"),
    path(f"{_ALL}refit/", register.refitting, name="refit"),
    path(f"{_ALL}boxes/", register.boxes, name="boxes"),
    path(f"{_ALL}labels.pdf", register.labels, name="labels"),
    path(f"{_ALL}<int:number>/photo/", register.photo, name="photo"),
]
