from django.urls import path

from . import views

app_name = "hold"
urlpatterns = [
    path("v/<int:vehicle_id>/hold/", views.board, name="hold"),
    path("v/<int:vehicle_id>/hold/order/", views.order, name="order"),
    path("v/<int:vehicle_id>/hold/keep/", views.keep, name="keep"),
]
