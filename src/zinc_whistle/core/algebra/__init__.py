"""Units, quantities, rules, figures and their doubt, corners and limits."""
