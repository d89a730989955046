from django.contrib.auth import get_user_model, login
from django.contrib.auth.views import LoginView, LogoutView
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from .forms import SignInForm, WelcomeForm


def welcome(request: HttpRequest) -> HttpResponse:
    """First visit: make the owner's account. Afterwards this door is shut."""
    if get_user_model().objects.exists():
        return redirect("today:home")
    form = WelcomeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        with transaction.atomic():
            user = form.save()
        login(request, user)
        return redirect("today:home")
    return render(request, "accounts/welcome.html", {"form": form}, status=422 if form.errors else 200)


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


sign_in = SignIn.as_view()
sign_out = LogoutView.as_view()
