"""Document in, Appraisal out; what each move gains."""
