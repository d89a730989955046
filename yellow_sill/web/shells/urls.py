from django.urls import path

from . import views

app_name = "shells"
urlpatterns = [
    path("vehicles/", views.vehicles, name="vehicles"),
    path("vehicles/new/", views.new, name="new"),
    path("vehicles/new/preview/", views.preview, name="preview"),
]
