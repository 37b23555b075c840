from django.apps import AppConfig


class CameraReportsConfig(AppConfig):
    name = "ruggedraft.camera_reports"
    label = "camera_reports"
