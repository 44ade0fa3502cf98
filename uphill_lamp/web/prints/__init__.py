"""Sheets to print: labels, the plan, drawings as files of their own."""
