from django.contrib.auth.forms import AuthenticationForm, UserCreationForm


class WelcomeForm(UserCreationForm):
    """The owner's account: a name that appears in the record, and a password."""

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Your name"
        self.fields["username"].help_text = "It stands beside everything you record."
        self.fields["password1"].help_text = "Ten characters or more. There is nobody who could send you a new one: write it down."
        self.fields["password2"].label = "Password again"
        self.fields["password2"].help_text = ""
        self.fields["username"].widget.attrs["autofocus"] = True


class SignInForm(AuthenticationForm):
    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Your name"
        self.error_messages["invalid_login"] = "That name and password do not go together. Capitals count in both."
