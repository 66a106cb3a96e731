"""Plan, section and boat drawings as plain shapes with meaning."""
