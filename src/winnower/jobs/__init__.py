"""Long work: cut into batches that can be repeated safely, with progress, cancel and resume."""
