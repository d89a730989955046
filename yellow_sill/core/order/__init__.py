"""Order of work: steps into the slots that a person has, what they can do now, when it will be done."""
