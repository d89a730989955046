from django.urls import path

from . import views

app_name = "keeping"
urlpatterns = [path("backups/", views.backups, name="backups")]
