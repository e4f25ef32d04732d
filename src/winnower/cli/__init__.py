"""The command line for the main job: projects, import, counting, concordance, dictionaries."""
