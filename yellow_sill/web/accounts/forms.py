from django import forms
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.forms import AuthenticationForm, SetPasswordForm, UserCreationForm
from django.utils.crypto import constant_time_compare

#: A name stands in the strip and beside every entry.
LONGEST_NAME = 40


def one_line(typed: str) -> str:
    """Any name in one line. Raises: ValidationError for signs that nobody can see or type."""
    name = " ".join(typed.split())
    if not name.isprintable():
        raise forms.ValidationError("This name has a sign in it that cannot be seen. Type it again.")
    return name


class PersonForm(forms.Form):
    """Somebody else who works in this garage: only a name, the password is their own."""

    name = forms.CharField(
        label="Name",
        max_length=LONGEST_NAME,
        help_text="It stands beside everything they record.",
        error_messages={"required": "Write the name that shall stand beside what they record."},
        widget=forms.TextInput(attrs={"autocomplete": "off"}),
    )

    def clean_name(self) -> str:
        """Raises: ValidationError for a name that another account has, in whatever capitals."""
        name = one_line(self.cleaned_data["name"])
        if get_user_model().objects.filter(username__iexact=name).exists():
            raise forms.ValidationError(f"There is an account for {name} already.")
        return name


class JoinForm(SetPasswordForm):
    """The own password of somebody who was given a link."""

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["new_password1"].label = "Your password"
        self.fields["new_password1"].help_text = "Ten characters or more. Nobody else knows it."
        self.fields["new_password2"].label = "Password again"


class WelcomeForm(UserCreationForm):
    """The owner's account: a name that appears in the record, as people have names, and a password. A refused form keeps the name; passwords are typed again.

    Where others can reach this address, the first visit must know the code that the terminal shows.
    """

    username = forms.CharField(
        max_length=LONGEST_NAME,
        error_messages={"required": "Write the name that shall stand beside what you record."},
    )

    code = forms.CharField(
        label="Code",
        max_length=20,
        help_text="The terminal in which Yellow Sill was started shows it: others can reach this address too.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "autocapitalize": "characters"}),
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
        if not settings.WELCOME_CODE:
            del self.fields["code"]

    def clean_username(self) -> str:
        return one_line(self.cleaned_data["username"])

    def clean_code(self) -> str:
        """Raises: ValidationError for another code than the terminal's."""
        code = self.cleaned_data["code"].strip().upper()
        if not constant_time_compare(code, settings.WELCOME_CODE):
            raise forms.ValidationError("That is not the code that the terminal shows.")
        return code

    def _get_validation_exclusions(self) -> set[str]:
        return super()._get_validation_exclusions() | {"username"}  # the model's own rule knows no spaces


class SignInForm(AuthenticationForm):
    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Your name"
        self.error_messages["invalid_login"] = (
            "That name and password do not go together. Capitals count in both."
        )
