from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("crew", "0005_everybody_keeps_their_role")]
    operations = [migrations.RemoveField(model_name="person", name="role")]
