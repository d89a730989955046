from django.urls import path

from . import views

app_name = "accounts"
urlpatterns = [
    path("welcome/", views.welcome, name="welcome"),
    path("sign-in/", views.sign_in, name="sign_in"),
    path("signed-in/", views.door, name="door"),
    path("join/<str:who>/<str:token>/", views.join, name="join"),
    path("display/", views.display, name="display"),
    path("sign-out/", views.sign_out, name="sign_out"),
]
