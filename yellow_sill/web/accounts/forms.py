from django import forms
from django.contrib.auth.forms import AuthenticationForm, UserCreationForm

#: A name stands in the strip and beside every entry.
LONGEST_NAME = 40


class WelcomeForm(UserCreationForm):
    """The owner's account: a name that appears in the record, as people have names, and a password. A refused form keeps all that was typed."""

    username = forms.CharField(
        max_length=LONGEST_NAME,
        error_messages={"required": "Write the name that shall stand beside what you record."},
    )

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Your name"
        self.fields["username"].help_text = "It stands beside everything you record."
        self.fields[
            "password1"
        ].help_text = "Ten characters or more. There is nobody who could send you a new one: write it down."
        self.fields["password2"].label = "Password again"
        self.fields["password2"].help_text = ""
        self.fields["username"].widget.attrs |= {"autofocus": True, "autocomplete": "username"}
        for name in ("password1", "password2"):
            self.fields[name].widget.render_value = True

    def clean_username(self) -> str:
        """Any name in one line. Raises: ValidationError for signs that nobody can see or type."""
        name = " ".join(self.cleaned_data["username"].split())
        if not name.isprintable():
            raise forms.ValidationError("This name has a sign in it that cannot be seen. Type it again.")
        return name

    def _get_validation_exclusions(self) -> set[str]:
        return super()._get_validation_exclusions() | {"username"}  # the model's own rule knows no spaces


class SignInForm(AuthenticationForm):
    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Your name"
        self.error_messages["invalid_login"] = (
            "That name and password do not go together. Capitals count in both."
        )
