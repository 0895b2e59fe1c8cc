"""The Django app: shops' designs and pictures, and the API the interface speaks."""
