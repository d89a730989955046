from django.urls import path

from .views import plan, work

app_name = "order"
_ALL = "v/<int:vehicle_id>/plan/"
urlpatterns = [
    path(_ALL, plan.plan, name="plan"),
    path(f"{_ALL}progress/<str:key>/", plan.progress, name="progress"),
    path(f"{_ALL}work/", work.work, name="work"),
]
