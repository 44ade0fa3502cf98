from django.db import migrations, models


def as_shipped(apps, schema_editor):
    """Kinds that ship with the app get the minutes that ship with them."""
    from uphill_lamp.core.catalogue.table import shipped

    for row in apps.get_model("catalogue", "Entry").objects.filter(own=False):
        if row.entry in shipped():
            kind = shipped()[row.entry]
            row.minutes_once, row.minutes_each_time = kind.minutes_once, kind.minutes_each_time
            row.save()


class Migration(migrations.Migration):
    dependencies = [("catalogue", "0001_initial")]

    operations = [
        migrations.AddField("entry", "minutes_once", models.FloatField(default=10)),
        migrations.AddField("entry", "minutes_each_time", models.FloatField(default=0)),
        migrations.RunPython(as_shipped, migrations.RunPython.noop),
    ]
