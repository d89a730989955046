from django.urls import path

from .views import now, paper, plan, what_if, work

app_name = "order"
_ALL = "v/<int:vehicle_id>/plan/"
urlpatterns = [
    path(_ALL, plan.plan, name="plan"),
    path(f"{_ALL}progress/<str:key>/", plan.progress, name="progress"),
    path(f"{_ALL}now/", now.now, name="now"),
    path(f"{_ALL}calendars/", paper.calendars, name="calendars"),
    path(f"{_ALL}slot.pdf", paper.card, name="card"),
    path(f"{_ALL}wall-<str:sheet>.pdf", paper.wall, name="wall"),
    path(f"{_ALL}garage.ics", paper.ics, name="ics"),
    path("calendar/<str:token>.ics", paper.feed, name="feed"),
    path(f"{_ALL}what-if/", what_if.page, name="what_if"),
    path(f"{_ALL}work/", work.work, name="work"),
]
