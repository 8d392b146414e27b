<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('increment_marks', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->char('fingerprint', 32);
            $table->text('mark');
            $table->timestamps();
            $table->unique(['endpoint_id', 'environment_id']);
        });
        Schema::table('runs', static function (Blueprint $table): void {
            $table->boolean('whole')->default(false);
            $table->boolean('takes_any')->default(false);
            $table->json('changes')->nullable();
            $table->json('seen')->nullable();
        });
        Schema::table('schedules', static function (Blueprint $table): void {
            $table->dateTime('sweep_at')->nullable()->index();
        });
    }
};
