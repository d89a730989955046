from django.urls import path

from . import views

app_name = "today"
urlpatterns = [
    path("", views.home, name="home"),
    path("v/<int:vehicle_id>/", views.today, name="today"),
]
