from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("kit", "0005_who_carries_keeps_it")]
    operations = [migrations.RemoveField(model_name="device", name="carried_by")]
