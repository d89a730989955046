from django.urls import path

from .views import cost, need, wanted

app_name = "parts"
_ALL = "v/<int:vehicle_id>/parts/"
urlpatterns = [
    path("v/<int:vehicle_id>/repairs/<int:number>/log/cost/<int:pk>/", cost.cost, name="cost"),
    path(_ALL, wanted.wanted, name="wanted"),
    path(f"{_ALL}<int:number>/", need.need, name="need"),
    path(f"{_ALL}<int:number>/photo/", need.photo, name="photo"),
]
