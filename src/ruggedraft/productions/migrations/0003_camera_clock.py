from django.db import migrations, models


def to_spans(apps, _):
    Camera = apps.get_model("productions", "Camera")
    for camera in Camera.objects.exclude(clock_ahead_s=0):
        camera.clock = [[camera.clock_ahead_s, None, None]]
        camera.save(update_fields=["clock"])


def to_seconds(apps, _):
    Camera = apps.get_model("productions", "Camera")
    for camera in Camera.objects.exclude(clock=[]):
        camera.clock_ahead_s = camera.clock[-1][0]
        camera.save(update_fields=["clock_ahead_s"])


class Migration(migrations.Migration):
    """A camera's clock may have been wrong for a stretch of its time only."""

    dependencies = [("productions", "0002_plan_fleet")]

    operations = [
        migrations.AddField("camera", "clock", models.JSONField(default=list)),
        migrations.RunPython(to_spans, to_seconds),
        migrations.RemoveField("camera", "clock_ahead_s"),
    ]
