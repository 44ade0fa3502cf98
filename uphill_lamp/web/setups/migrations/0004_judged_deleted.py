from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("setups", "0003_script")]

    operations = [
        migrations.AddField("revision", "score", models.FloatField(null=True)),
        migrations.AddField("revision", "worst", models.CharField(blank=True, max_length=300)),
        migrations.AddField("revision", "alt", models.TextField(blank=True)),
        migrations.AddField("revision", "judged_by", models.CharField(blank=True, max_length=12)),
        migrations.AddField("setup", "deleted_at", models.DateTimeField(blank=True, null=True)),
    ]
