from django.urls import path

from . import views

app_name = "parts"
urlpatterns = [
    path("v/<int:vehicle_id>/repairs/<int:number>/log/cost/<int:pk>/", views.cost, name="cost"),
]
