from django.urls import path

from .views import repair, rules

app_name = "repairs"
urlpatterns = [
    path("v/<int:vehicle_id>/repairs/", repair.repairs, name="repairs"),
    path("v/<int:vehicle_id>/repairs/new/", repair.new, name="new"),
    path("v/<int:vehicle_id>/repairs/rules/", rules.rules, name="rules"),
]
