#!/usr/bin/env python3
"""Django's command line. People use ./yellow-sill; this is for developers."""

import os
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "yellow_sill.settings.base")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
