from django.urls import path

from .views import board, braces, measured, order, ways

app_name = "hold"
urlpatterns = [
    path("v/<int:vehicle_id>/hold/", board.board, name="hold"),
    path("v/<int:vehicle_id>/hold/keep/", board.keep, name="keep"),
    path("v/<int:vehicle_id>/hold/ways/", ways.ways, name="ways"),
    path("v/<int:vehicle_id>/hold/braces/", braces.braces, name="braces"),
    path("v/<int:vehicle_id>/hold/measured/", measured.measured, name="measured"),
    path("v/<int:vehicle_id>/hold/order/", order.order, name="order"),
    path("v/<int:vehicle_id>/hold/order/find/", order.find, name="find"),
    path("v/<int:vehicle_id>/hold/order/accept/", order.accept, name="accept"),
    path("v/<int:vehicle_id>/hold/order/done/", order.done, name="done"),
    path("v/<int:vehicle_id>/hold/order/find/<slug:key>/", order.progress, name="progress"),
    path("v/<int:vehicle_id>/hold/order/find/<slug:key>/stop/", order.stop, name="stop"),
]
